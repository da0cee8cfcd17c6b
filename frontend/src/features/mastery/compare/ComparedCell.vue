<script setup lang="ts">
import type { ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { CHANGES, type Change } from './useComparison'

/** What one student comes to under one setting, and what that would change. */
defineProps<{
  value: string
  level: number
  mastered: boolean
  change: Change
  scale: ScaleOut
  enough: boolean
}>()
</script>

<template>
  <span class="cell" :class="{ few: !enough }">
    <Ladder
      :level="level"
      :levels="scale.levels.length"
      :mastery-level="scale.mastery_level"
      :size="15"
      :uncertain="!enough"
      :label="`${scale.levels[level]?.name}${mastered ? ', mastered' : ''}`"
    />
    <span>{{ value }}</span>
    <span v-if="change !== '='" class="change">{{ CHANGES[change] }}</span>
  </span>
</template>

<style scoped>
.cell {
  display: inline-flex;
  gap: 0 5px;
  align-items: center;
  line-height: 1.15;
  font-variant-numeric: tabular-nums;
}
.few {
  color: var(--ink-3);
}
.change {
  font-size: 12px;
}
</style>
