<script setup lang="ts">
import { computed } from 'vue'
import type { CriterionOut, SpreadOut } from '@/api/schema'
import Notice from '@/design/telling/Notice.vue'
import { several } from '@/design/format'

/** How the levels of a criterion have fallen so far, and the sign of drift with both halves. */
const props = defineProps<{ criterion: CriterionOut; spread: SpreadOut | undefined }>()
const rowOf = (counts: number[]) =>
  counts
    .map((count, place) => ({ count, name: props.criterion.levels[place]?.name ?? '' }))
    .toReversed()
const most = (counts: number[]) => Math.max(1, ...counts)
const all = computed(() => props.spread?.all.counts ?? [])
const marked = computed(() => all.value.reduce((sum, one) => sum + one, 0))
const drift = computed(() => props.spread?.drift ?? null)
const higher = computed(() =>
  drift.value && Number(drift.value.later.mean) > Number(drift.value.earlier.mean)
    ? 'higher'
    : 'lower',
)
const parts = computed(() =>
  drift.value
    ? [
        { name: `First ${drift.value.earlier.count}`, half: drift.value.earlier },
        { name: `Last ${drift.value.later.count}`, half: drift.value.later },
      ]
    : [],
)
</script>

<template>
  <div v-if="spread" class="spread small">
    <p v-if="!marked && !spread.not_assessed" class="quiet">Nobody is marked on this yet.</p>
    <template v-else>
      <Notice v-if="drift?.drifted" class="drift">
        <b>Drift:</b> lately you choose {{ higher }} levels here than at first. Look at some of the
        first again.
      </Notice>
      <div class="columns">
        <div v-if="!drift" class="column">
          <p class="quiet">
            So far {{ several(marked, 'student')
            }}<template v-if="spread.not_assessed"
              >, {{ spread.not_assessed }} not assessed</template
            >
          </p>
          <p v-for="row in rowOf(all)" :key="row.name" class="bar">
            <span class="name">{{ row.name }}</span>
            <i :style="{ width: `${(row.count / most(all)) * 60}px` }" />
            <span>{{ row.count }}</span>
          </p>
        </div>
        <div v-for="part in parts" v-else :key="part.name" class="column">
          <p class="quiet">
            {{ part.name }}: mean level {{ part.half.mean }}, spread {{ part.half.deviation }}
          </p>
          <p v-for="row in rowOf(part.half.counts)" :key="row.name" class="bar">
            <span class="name">{{ row.name }}</span>
            <i :style="{ width: `${(row.count / most(part.half.counts)) * 60}px` }" />
            <span>{{ row.count }}</span>
          </p>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.spread {
  margin: 2px 0 8px;
}
.drift {
  margin-bottom: 6px;
}
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
}
.column {
  flex: 1 1 0;
  min-width: 160px;
}
.bar {
  display: grid;
  grid-template-columns: 84px auto 1fr;
  gap: 6px;
  align-items: center;
  line-height: 1.3;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar i {
  height: 8px;
  min-width: 1px;
  background: var(--slate);
  print-color-adjust: exact;
}
</style>
