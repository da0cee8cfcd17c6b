<script setup lang="ts">
import { computed } from 'vue'
import type { TaskOverTermOut } from '@/api/schema'

/** The mean of each task as a line, and from the lowest to the top total as an upright; per cent. */
const props = defineProps<{ tasks: TaskOverTermOut[] }>()
const WIDTH = 760
const HEIGHT = 190
const LEFT = 42
const TOP = 10
const BOTTOM = 26
const shown = computed(() => props.tasks.filter((one) => one.mean !== null))
const x = (at: number) => LEFT + ((at + 0.5) * (WIDTH - LEFT)) / Math.max(1, shown.value.length)
const y = (share: string | null) =>
  TOP + (1 - Math.min(1.1, Number(share) / 100) / 1.1) * (HEIGHT - TOP - BOTTOM)
const line = (which: 'mean' | 'top' | 'lowest') =>
  shown.value
    .map((one, at) => `${at ? 'L' : 'M'}${x(at).toFixed(1)} ${y(one[which]).toFixed(1)}`)
    .join(' ')
const words = computed(() =>
  shown.value
    .map((one) => `${one.title}: mean ${one.mean}%, from ${one.lowest}% to ${one.top}%`)
    .join('; '),
)
</script>

<template>
  <svg v-if="shown.length" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="words">
    <g v-for="share in [0, 50, 100]" :key="share">
      <line class="grid" :x1="LEFT" :x2="WIDTH" :y1="y(String(share))" :y2="y(String(share))" />
      <text :x="LEFT - 6" :y="y(String(share)) + 4" text-anchor="end">{{ share }}%</text>
    </g>
    <path class="edge" :d="line('top')" />
    <path class="edge" :d="line('lowest')" />
    <path class="mean" :d="line('mean')" />
    <g v-for="(one, at) in shown" :key="one.id">
      <title>{{ one.title }}: mean {{ one.mean }}%, {{ one.lowest }}% to {{ one.top }}%</title>
      <line class="span" :x1="x(at)" :x2="x(at)" :y1="y(one.lowest)" :y2="y(one.top)" />
      <circle :cx="x(at)" :cy="y(one.mean)" r="4" />
      <text :x="x(at)" :y="HEIGHT - 8" text-anchor="middle">{{ at + 1 }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 900px;
  height: auto;
  background: var(--card);
  border: 1px solid var(--line);
}
text {
  font-size: 11px;
  fill: var(--ink-2);
}
.grid {
  stroke: var(--line);
}
.mean {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.edge {
  fill: none;
  stroke: var(--edge);
  stroke-dasharray: 4 3;
}
.span {
  stroke: var(--edge);
}
circle {
  fill: var(--ink);
}
</style>
