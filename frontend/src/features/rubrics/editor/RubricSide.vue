<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import type { RubricOut } from '@/api/schema'
import { several } from '@/design/format'
import HandOut from '@/shared/HandOut.vue'
import RubricWeights from './RubricWeights.vue'
import type { Draft } from './useRubric'

/** What the rubric leads to: outcomes reached, weights, what is missing, where it is used. */
const props = defineProps<{
  rubric: RubricOut
  draft: Draft
  weighted: boolean
  sameNames: boolean
}>()
defineEmits<{
  share: [how: 'missing' | 'equal']
  'remove-weights': []
  'same-names': [on: boolean]
  'points-shown': [on: boolean]
}>()

const reached = computed(() =>
  props.rubric.reaches.flatMap((reach) => {
    const outcome = props.rubric.outcomes.find((one) => one.id === reach.outcome_id)
    return outcome ? [{ ...reach, outcome }] : []
  }),
)
const counting = computed(() => props.draft.criteria.filter((one) => !one.bonus))
/** Outcomes that can be aligned, by drag; the list in each criterion does the same by key. */
const others = computed(() => props.rubric.outcomes.filter((one) => one.active))

function drag(outcomeId: number, event: DragEvent) {
  event.dataTransfer?.setData('application/x-outcome', String(outcomeId))
}
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
          <span v-if="!one.lifts_to_mastery" class="clay">cannot reach mastery here</span>
          <span class="quiet share"
            >{{ several(one.criteria, 'criterion', 'criteria') }}, {{ one.share }}% of the
            alignments</span
          ></span
        >
      </li>
    </ul>
    <p v-for="note in rubric.notes" :key="note.field + note.message" class="small quiet">
      {{ note.message }}.
    </p>

    <template v-if="!rubric.final && others.length">
      <p class="small quiet drag">Drag onto a criterion what it is evidence for:</p>
      <div class="others">
        <span
          v-for="one in others"
          :key="one.id"
          class="tag grip"
          draggable="true"
          :title="one.title"
          @dragstart="drag(one.id, $event)"
          >{{ one.code }}</span
        >
      </div>
    </template>

    <RubricWeights
      :criteria="counting"
      :weighted="weighted"
      :final="rubric.final"
      @share="$emit('share', $event)"
      @remove-weights="$emit('remove-weights')"
    />

    <template v-if="!rubric.final">
      <h2>Settings</h2>
      <NCheckbox class="small" :checked="sameNames" @update:checked="$emit('same-names', $event)"
        >The same level names for all criteria</NCheckbox
      >
      <NCheckbox
        class="small"
        :checked="draft.points_shown"
        @update:checked="$emit('points-shown', $event)"
        >Students see the points</NCheckbox
      >
    </template>

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
          {{ task.title }}
          <span class="quiet"
            >{{ task.class_name
            }}<template v-if="rubric.number > 1">, revision {{ task.revision }}</template></span
          >
        </li>
      </ul>
      <p v-if="rubric.number > 1" class="small">
        <RouterLink :to="{ name: 'revisions' }">Revisions side by side</RouterLink>
      </p>
    </template>
    <p class="hand-out">
      <HandOut what="rubric" :class-id="Number($route.params.classId)" :thing="rubric.id" />
    </p>
  </aside>
</template>

<style scoped>
.hand-out {
  margin: 18px 0 0 -13px;
}
.share {
  display: block;
}
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
label {
  padding: 3px 0;
  gap: 8px;
}
.drag {
  margin-top: 10px;
}
.others {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin-top: 4px;
}
.grip {
  cursor: grab;
}
.missing li {
  display: list-item;
  list-style: none;
}
</style>
