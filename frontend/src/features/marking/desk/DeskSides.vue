<script setup lang="ts">
import { vOneStop } from '@/design/oneStop'

/** Where work and rubric do not fit beside each other, one of them is shown. */
const side = defineModel<'work' | 'rubric'>({ required: true })
const SIDES = [
  { name: 'work', label: 'Work' },
  { name: 'rubric', label: 'Rubric' },
] as const
</script>

<template>
  <div v-one-stop:row class="sides" role="tablist" aria-label="Work or rubric">
    <button
      v-for="one in SIDES"
      :key="one.name"
      type="button"
      role="tab"
      :aria-selected="side === one.name"
      :data-stop="side === one.name ? '' : undefined"
      @click="side = one.name"
      @focus="side = one.name"
    >
      {{ one.label }}
    </button>
  </div>
</template>

<style scoped>
.sides {
  display: none;
  gap: 8px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--line);
}
button {
  font: inherit;
  color: var(--ink);
  min-height: 44px;
  padding: 4px 18px;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  cursor: pointer;
}
button[aria-selected='true'] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
  font-weight: 700;
}
/* Between a phone, where one scrolls from one to the other, and a window that has room for both. */
@media (min-width: 761px) and (max-width: 900px) {
  .sides {
    display: flex;
  }
}
</style>
