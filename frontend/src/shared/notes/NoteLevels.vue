<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed, useId } from 'vue'
import type { ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'

/** A level of an outcome's scale, and half-way above it: in one press each, or by arrow keys. */
const props = defineProps<{ scale: ScaleOut; error?: string }>()
const level = defineModel<number | null>('level', { required: true })
const halfWay = defineModel<boolean>('halfWay', { required: true })
const id = useId()
const top = computed(() => props.scale.levels.length - 1)
const canHalf = computed(() => level.value !== null && level.value < top.value)

function choose(to: number) {
  level.value = to
  if (to >= top.value) halfWay.value = false
}
function walk(event: KeyboardEvent, by: number) {
  const to = Math.max(0, Math.min(top.value, (level.value ?? (by > 0 ? -1 : 1)) + by))
  choose(to)
  const all = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=radio]')
  all[to]?.focus()
}
</script>

<template>
  <div class="field">
    <div
      class="levels"
      role="radiogroup"
      aria-label="Level"
      :aria-describedby="error ? id : undefined"
      @keydown.right.prevent="walk($event, 1)"
      @keydown.down.prevent="walk($event, 1)"
      @keydown.left.prevent="walk($event, -1)"
      @keydown.up.prevent="walk($event, -1)"
    >
      <button
        v-for="(one, at) in scale.levels"
        :key="at"
        type="button"
        role="radio"
        :aria-checked="at === level"
        :tabindex="at === (level ?? 0) ? 0 : -1"
        :aria-invalid="Boolean(error)"
        @click="choose(at)"
      >
        <Ladder
          :level="at"
          :levels="scale.levels.length"
          :mastery-level="scale.mastery_level"
          :size="18"
        />
        <!-- Of many levels the ladder is the number. -->
        <span>{{ scale.levels.length > 4 ? '' : at + 1 }} {{ one.name }}</span>
      </button>
    </div>
    <NCheckbox v-model:checked="halfWay" :class="{ none: !canHalf }"
      >Half-way up to the next</NCheckbox
    >
    <p v-if="error" :id="id" class="small clay">{{ error }}</p>
  </div>
</template>

<style scoped>
.levels {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 6px;
}
/* It keeps its place, so that nothing moves under the finger. */
.none {
  visibility: hidden;
}
button {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
button[aria-checked='true'] {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
  font-weight: 650;
}
button:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: 2px;
}
</style>
