<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { OwnOutcomeOut } from '@/api/schema'
import type { Draft } from './useRubric'

/** The rubric as students read it, best level first: a clean page to hand out or print. */
const props = defineProps<{ draft: Draft; outcomes: OwnOutcomeOut[] }>()
const emit = defineEmits<{ close: [] }>()
const outcomeOf = computed(() => new Map(props.outcomes.map((one) => [one.id, one])))
const print = () => window.print()
</script>

<template>
  <div class="sheet">
    <div class="row no-print">
      <p class="quiet">As a student sees it.</p>
      <NButton class="push" @click="print">Print or save as PDF</NButton>
      <NButton type="primary" @click="emit('close')">Back to the editor</NButton>
    </div>
    <h1>{{ draft.title }}</h1>
    <section v-for="criterion in draft.criteria" :key="criterion.key">
      <h2>
        {{ criterion.title }}
        <span v-if="criterion.bonus" class="small quiet">bonus</span>
        <span v-if="criterion.weight" class="small quiet">{{ criterion.weight }}%</span>
      </h2>
      <p v-if="criterion.alignments.length" class="small">
        <span v-for="(tie, place) in criterion.alignments" :key="tie.outcome_id"
          >{{ place ? ' · ' : '' }}{{ outcomeOf.get(tie.outcome_id)?.title }}</span
        >
      </p>
      <dl>
        <div v-for="level in [...criterion.levels].reverse()" :key="level.key">
          <dt>
            {{ level.name
            }}<span v-if="draft.points_shown" class="quiet">&nbsp;{{ level.points }}</span>
          </dt>
          <dd>{{ level.descriptor || '–' }}</dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.sheet {
  max-width: 860px;
  padding: 18px 20px 40px;
  margin: 0 auto;
  width: 100%;
}
section {
  margin-top: 18px;
  break-inside: avoid;
}
dl {
  margin: 6px 0 0;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
}
dl > div {
  display: grid;
  grid-template-columns: 170px 1fr;
  border-top: 1px solid var(--line);
}
dl > div:first-child {
  border-top: 0;
}
dt,
dd {
  padding: 7px 12px;
  margin: 0;
}
dt {
  font-weight: 650;
}
dd {
  white-space: pre-line;
  border-left: 1px solid var(--line);
}
@media print {
  .no-print {
    display: none;
  }
  .sheet {
    padding: 0;
    max-width: none;
  }
}
@media (max-width: 600px) {
  dl > div {
    grid-template-columns: 1fr;
  }
  dd {
    border-left: 0;
    padding-top: 0;
  }
}
</style>
