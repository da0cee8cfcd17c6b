<script setup lang="ts">
import { computed } from 'vue'
import type { CriterionOut, MasteryOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import LevelButtons from './LevelButtons.vue'
import type { Choice } from './seen'

/** One student in the grid of a criterion: a glance at where they stand, and the levels. */
const props = defineProps<{
  name: string
  glance: MasteryOut | null | undefined
  scale: ScaleOut | undefined
  criterion: CriterionOut
  levelId: number | null
  halfWay: boolean
  notAssessed: boolean
  carried: boolean
  absent: boolean
  /** When they were seen, where that is what is shown: nothing is seen of them today. */
  earlier: string
  /** They were never seen, where others were. */
  never: boolean
  excused: boolean
  /** Something is said of them on this criterion. */
  said: boolean
  /** What waits for a decision: another device came before, or the server refused. */
  conflict: string
}>()
/** Where they stand on the outcome, in words. */
const where = computed(() => {
  const { glance, scale } = props
  if (!scale) return ''
  const level = glance?.level ?? null
  return level === null ? 'no evidence yet' : `now ${scale.levels[level]?.name ?? ''}`
})
defineEmits<{ choose: [choice: Choice]; read: [levelId: number]; open: [] }>()
</script>

<template>
  <li class="student" :class="{ absent }">
    <button class="name" type="button" @click="$emit('open')">
      <Ladder
        v-if="scale"
        :level="glance?.level ?? null"
        :levels="scale.levels.length"
        :mastery-level="scale.mastery_level"
        :uncertain="glance?.state === 'needs-evidence'"
        :size="18"
        :label="where"
      />
      <span class="who"
        ><span class="given">{{ name }}</span>
        <small v-if="conflict" class="clay">{{ conflict }}</small>
        <small v-else-if="excused">excused</small>
        <small v-else-if="absent">absent</small>
        <small v-else-if="earlier">{{ earlier }}</small>
        <small v-else-if="never" class="never">never seen</small>
        <small v-else-if="carried">carried over</small>
        <small v-else-if="notAssessed">not assessed</small>
        <small v-else-if="said">with a word</small></span
      >
    </button>
    <LevelButtons
      class="buttons"
      :criterion="criterion"
      :scale="scale"
      :name="name"
      :level-id="levelId"
      :half-way="halfWay"
      :carried="carried || !!earlier"
      :disabled="excused"
      @choose="$emit('choose', $event)"
      @read="$emit('read', $event)"
    />
  </li>
</template>

<style scoped>
.student {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 61px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--line);
  flex-wrap: wrap;
}
.name {
  flex: 1 1 112px;
  min-width: 0;
  min-height: 44px;
  display: flex;
  align-items: center;
  gap: 9px;
  border: 0;
  padding: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.who {
  min-width: 0;
  line-height: 1.2;
}
.given {
  overflow-wrap: anywhere;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
small {
  display: block;
  color: var(--ink-3);
  font-size: 12px;
}
small.never {
  color: var(--ink-2);
  font-weight: 650;
}
small.clay {
  color: var(--clay);
}
.absent .given {
  color: var(--ink-3);
}
.buttons {
  flex: 0 1 auto;
  flex-wrap: wrap;
}
</style>
