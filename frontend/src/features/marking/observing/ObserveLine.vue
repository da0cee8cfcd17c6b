<script setup lang="ts">
import { computed } from 'vue'
import type { CriterionOut } from '@/api/schema'
import { longDay } from '@/design/format'
import type { Shown } from './seen'

/** One student in the list: what was chosen on each criterion, and whether they are here. */
const props = defineProps<{
  name: string
  shown: Shown
  criteria: readonly CriterionOut[]
  excused: boolean
  /** What is shown was seen at an earlier observation: nothing is seen of them today. */
  earlier: boolean
  conflict: string
}>()
defineEmits<{ open: []; absent: [absent: boolean] }>()

const choices = computed(() =>
  props.earlier && props.shown.earlier ? props.shown.earlier.choices : props.shown.choices,
)

function chosen(criterion: CriterionOut): string {
  const choice = choices.value.get(criterion.id)
  if (!choice) return '–'
  if (choice.not_assessed) return 'n. a.'
  const place = criterion.levels.findIndex((level) => level.id === choice.level_id)
  if (criterion.kind === 'yes-no') return place ? 'Yes' : 'No'
  return `${place + 1}${choice.half_way ? '½' : ''}`
}
const seen = () => [...props.shown.choices.keys()].some((id) => !props.shown.carried.has(id))
</script>

<template>
  <li class="student" :class="{ off: shown.absent || excused }">
    <button class="name" type="button" @click="$emit('open')">
      <b>{{ name }}</b>
      <span v-if="excused" class="small quiet">excused</span>
      <span v-else-if="shown.absent" class="small quiet">absent today</span>
      <span v-else class="marks">
        <span
          v-for="criterion in criteria"
          :key="criterion.id"
          class="mark"
          :class="{
            none: !choices.has(criterion.id),
            old: earlier || shown.carried.has(criterion.id),
          }"
          :title="criterion.title"
          ><span class="visually-hidden">{{ criterion.title }}: </span>{{ chosen(criterion) }}</span
        >
        <span v-if="shown.earlier" class="small quiet">seen {{ longDay(shown.earlier.day) }}</span>
        <span v-else-if="!choices.size" class="small">not seen yet</span>
      </span>
      <span v-if="conflict" class="small clay">{{ conflict }}: open to decide</span>
    </button>
    <button
      v-if="!excused"
      class="here"
      type="button"
      :aria-pressed="shown.absent"
      :aria-label="`${name} is absent`"
      :disabled="!shown.absent && (earlier || seen())"
      @click="$emit('absent', !shown.absent)"
    >
      Absent
    </button>
  </li>
</template>

<style scoped>
.student {
  display: flex;
  align-items: stretch;
  gap: 8px;
  min-height: 61px;
  padding: 6px 16px;
  border-bottom: 1px solid var(--line);
}
.name {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  justify-content: center;
  gap: 3px;
  border: 0;
  padding: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
  overflow-wrap: anywhere;
}
.name b {
  font-weight: 600;
}
.off .name b {
  color: var(--ink-3);
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  align-items: baseline;
}
.mark {
  min-width: 26px;
  padding: 0 5px;
  text-align: center;
  border: 1px solid var(--edge);
  border-radius: 4px;
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
.mark.none {
  border-color: var(--line);
  color: var(--ink-3);
}
.mark.old {
  border-style: dashed;
}
.here {
  align-self: center;
  min-width: 74px;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: var(--r);
  background: none;
  color: var(--ink-2);
  font: inherit;
  font-size: 14px;
  cursor: pointer;
  touch-action: manipulation;
}
.here[aria-pressed='true'] {
  background: var(--ink);
  border-color: var(--ink);
  color: var(--on-ink);
}
.here:disabled {
  visibility: hidden;
}
</style>
