<script setup lang="ts">
import { onBeforeUnmount } from 'vue'
import type { CriterionOut, ScaleOut } from '@/api/schema'
import { levelOf } from '@/shared/cells'
import type { Choice } from './seen'

/** The levels of a criterion as buttons for a finger; held down, a level is read and not chosen. */
const props = defineProps<{
  criterion: CriterionOut
  scale: ScaleOut | undefined
  name: string
  levelId: number | null
  halfWay: boolean
  carried: boolean
  disabled: boolean
  /** With the names of the levels, one below the other. */
  tall?: boolean
}>()
const emit = defineEmits<{ choose: [choice: Choice]; read: [levelId: number] }>()

const HOLD = 450
let holding: ReturnType<typeof setTimeout> | undefined
let downAt = 0

function press(levelId: number, event: PointerEvent) {
  downAt = event.timeStamp
  clearTimeout(holding)
  holding = setTimeout(() => emit('read', levelId), HOLD)
}
function release() {
  clearTimeout(holding)
}
onBeforeUnmount(release)

function tap(levelId: number, event: MouseEvent) {
  release()
  // By the finger's own times: a page that was busy does not make a tap a hold. A key has none.
  if (event.detail && event.timeStamp - downAt >= HOLD) return
  emit('choose', { level_id: levelId, half_way: false, not_assessed: false })
}

/** Whether a level is evidence of mastery on the first outcome: jade says so, and nothing else. */
function isMastery(place: number): boolean {
  const value = props.criterion.alignments[0]?.cells[place]?.value
  if (!props.scale || !value) return false
  return (levelOf(value, props.scale) ?? 0) >= props.scale.mastery_level
}
const shortOf = (place: number) =>
  props.criterion.kind === 'yes-no' ? (place ? 'Yes' : 'No') : String(place + 1)
</script>

<template>
  <div
    class="levels"
    :class="{ tall }"
    role="radiogroup"
    :aria-label="`${name}: ${criterion.title}`"
  >
    <button
      v-for="(level, place) in criterion.levels"
      :key="level.id"
      class="level"
      :class="{ met: isMastery(place), carried: carried && level.id === levelId }"
      type="button"
      role="radio"
      :aria-checked="level.id === levelId"
      :aria-label="tall ? undefined : `${shortOf(place)}, ${level.name}`"
      :disabled="disabled"
      @pointerdown="press(level.id, $event)"
      @pointerup="release"
      @pointercancel="release"
      @pointerleave="release"
      @contextmenu.prevent
      @click="tap(level.id, $event)"
    >
      <b>{{ shortOf(place) }}{{ level.id === levelId && halfWay ? '½' : '' }}</b>
      <span v-if="tall" class="text"
        >{{ criterion.kind === 'yes-no' ? '' : level.name }}
        <small v-if="level.descriptor">{{ level.descriptor }}</small></span
      >
    </button>
  </div>
</template>

<style scoped>
.levels {
  display: flex;
  gap: 5px;
}
.level {
  min-width: 44px;
  min-height: 44px;
  flex: 1 1 44px;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  color: var(--ink-2);
  font: inherit;
  font-size: 15px;
  cursor: pointer;
  touch-action: manipulation;
  -webkit-touch-callout: none;
  user-select: none;
}
.level[aria-checked='true'] {
  background: var(--slate);
  border-color: var(--slate);
  color: var(--on-ink);
  text-decoration: underline;
  text-underline-offset: 4px;
}
.level.met[aria-checked='true'] {
  background: var(--jade);
  border-color: var(--jade);
}
.level.carried[aria-checked='true'] {
  background: none;
  color: var(--ink);
  border: 2px dashed var(--slate);
  text-decoration: none;
}
.level.met.carried[aria-checked='true'] {
  border-color: var(--jade);
  background: none;
}
.level:disabled {
  opacity: 0.5;
  cursor: default;
}
.tall {
  flex-direction: column;
}
.tall .level {
  display: flex;
  gap: 12px;
  align-items: baseline;
  text-align: left;
  padding: 10px 14px;
}
.tall .level {
  flex: none;
}
.tall b {
  flex: none;
  min-width: 20px;
}
.text small {
  display: block;
  font-size: 13px;
  opacity: 0.85;
}
</style>
