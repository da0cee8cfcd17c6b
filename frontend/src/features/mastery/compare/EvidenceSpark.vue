<script setup lang="ts">
import { computed } from 'vue'
import type { ScaleOut } from '@/api/schema'

/** The values of evidence in order as a small line, with where mastery begins. */
const props = defineProps<{ values: string[]; scale: ScaleOut }>()
const WIDTH = 96
const HEIGHT = 26
const levels = computed(() => props.scale.levels.map((one) => Number(one.value)))
const y = (value: string) => {
  const low = levels.value[0]!
  const share = (Number(value) - low) / (levels.value.at(-1)! - low)
  return HEIGHT - 4 - Math.max(0, Math.min(1, share)) * (HEIGHT - 8)
}
const points = computed(() => {
  const shown = props.values.slice(-24)
  const step = (WIDTH - 10) / Math.max(1, shown.length - 1)
  return shown.map((value, at) => ({ x: 5 + at * step, y: y(value) }))
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    :width="WIDTH"
    :height="HEIGHT"
    role="img"
    :aria-label="values.join(', ')"
  >
    <line x1="0" :x2="WIDTH" :y1="y(scale.mastery_cut)" :y2="y(scale.mastery_cut)" class="cut" />
    <polyline :points="points.map((one) => `${one.x},${one.y}`).join(' ')" />
    <circle v-for="(one, at) in points" :key="at" :cx="one.x" :cy="one.y" r="2.4" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
.cut {
  stroke: var(--jade);
  stroke-dasharray: 2 2;
}
polyline {
  fill: none;
  stroke: var(--edge);
}
circle {
  fill: var(--ink);
}
</style>
