<script setup lang="ts">
import { computed } from 'vue'
import type { RubricOut } from '@/api/schema'
import { several } from '@/design/format'
import type { DraftCriterion } from './useRubric'

/** What the rubric leads to: outcomes reached, weights, what is missing, where it is used. */
const props = defineProps<{
  rubric: RubricOut
  draft: { criteria: DraftCriterion[] }
  weighted: boolean
}>()
defineEmits<{ share: [how: 'missing' | 'equal']; 'remove-weights': [] }>()

const reached = computed(() =>
  props.rubric.reaches.flatMap((reach) => {
    const outcome = props.rubric.outcomes.find((one) => one.id === reach.outcome_id)
    return outcome ? [{ ...reach, outcome }] : []
  }),
)
const loose = computed(
  () => props.draft.criteria.filter((one) => !one.alignments.length && !one.bonus).length,
)
const counting = computed(() => props.draft.criteria.filter((one) => !one.bonus))
const sum = computed(() =>
  counting.value.reduce(
    (total, one) => total + Number((one.weight ?? '0').replace(',', '.') || 0),
    0,
  ),
)
const whole = computed(() => Math.abs(sum.value - 100) < 0.005)
const SHADES = ['var(--ink)', 'var(--ink-3)', 'var(--edge)', 'var(--ink-2)', 'var(--slate)']
</script>

<template>
  <aside class="side" aria-label="What the rubric leads to">
    <h2>Outcomes reached</h2>
    <p v-if="!reached.length" class="small quiet">
      None yet. Align a criterion to the outcome it is evidence for.
    </p>
    <ul v-else>
      <li v-for="one in reached" :key="one.outcome_id">
        <b>{{ one.outcome.code }}</b>
        <span class="title small"
          >{{ one.outcome.title }}
          <span v-if="!one.lifts_to_mastery" class="clay">cannot reach mastery here</span></span
        >
        <span class="quiet small">{{ several(one.criteria, 'criterion', 'criteria') }}</span>
      </li>
    </ul>
    <p v-if="loose" class="small clay">
      {{ several(loose, 'criterion', 'criteria') }} without an outcome.
    </p>
    <p v-if="rubric.blank_descriptors" class="small quiet">
      {{ several(rubric.blank_descriptors, 'descriptor') }} left blank.
    </p>

    <h2>Weights</h2>
    <template v-if="weighted">
      <div class="bar" role="img" :aria-label="`Weights come to ${sum}%`">
        <i
          v-for="(one, index) in counting"
          :key="one.key"
          :style="{
            width: `${Math.min(100, Math.max(0, Number((one.weight ?? '0').replace(',', '.')) || 0))}%`,
            background: SHADES[index % SHADES.length],
          }"
        />
      </div>
      <p class="small" :class="{ clay: !whole }">
        {{ Number(sum.toFixed(2)) }}% of 100%<template v-if="whole">.</template>
        <template v-else>: </template>
        <button
          v-if="!whole && !rubric.final"
          class="link"
          type="button"
          @click="$emit('share', 'missing')"
        >
          {{
            sum < 100
              ? `share out the missing ${Number((100 - sum).toFixed(2))}%`
              : 'bring them down to 100%'
          }}
        </button>
      </p>
      <p v-if="!rubric.final" class="small">
        <button class="link" type="button" @click="$emit('share', 'equal')">All equal</button> ·
        <button class="link" type="button" @click="$emit('remove-weights')">No weights</button>
      </p>
    </template>
    <p v-else class="small quiet">
      None: points are simply added.
      <button
        v-if="!rubric.final && counting.length"
        class="link"
        type="button"
        @click="$emit('share', 'equal')"
      >
        Give weights
      </button>
    </p>

    <template v-if="!rubric.final">
      <h2>Before it can be final</h2>
      <p v-if="!rubric.missing.length" class="small">Nothing is missing.</p>
      <ul v-else class="missing small">
        <li v-for="one in rubric.missing" :key="one.field + one.message" class="clay">
          {{ one.message }}
        </li>
      </ul>
    </template>
    <template v-if="rubric.tasks.length">
      <h2>Used by</h2>
      <ul>
        <li v-for="task in rubric.tasks" :key="task.id" class="small">
          {{ task.title }} <span class="quiet">{{ task.class_name }}</span>
        </li>
      </ul>
    </template>
  </aside>
</template>

<style scoped>
h2 {
  margin: 18px 0 6px;
}
h2:first-child {
  margin-top: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 5px 0;
  border-top: 1px solid var(--line);
}
.title {
  flex: 1;
}
.title .clay {
  display: block;
}
.missing li {
  display: list-item;
  list-style: none;
}
.bar {
  height: 8px;
  border-radius: 4px;
  display: flex;
  overflow: hidden;
  background: var(--line);
  margin: 6px 0 4px;
  gap: 1px;
}
</style>
