<script setup lang="ts">
import { computed } from 'vue'
import type { RungOut } from '@/api/schema'
import { day } from '@/design/format'
import { useSession } from '@/shared/session'

/** An outcome over time as a small line, with where mastery lies. */
const props = defineProps<{ rung: RungOut }>()
const { timeZone } = useSession()
const WIDTH = 110
const HEIGHT = 30
const y = (value: string) => {
  const low = Number(props.rung.lowest)
  const share = (Number(value) - low) / (Number(props.rung.highest) - low)
  return HEIGHT - 4 - Math.max(0, Math.min(1, share)) * (HEIGHT - 8)
}
const points = computed(() => {
  const all = props.rung.points.filter((one) => one.value !== null)
  return all.map((one, at) => ({
    x: 5 + (at / Math.max(1, all.length - 1)) * (WIDTH - 10),
    y: y(one.value ?? props.rung.lowest),
  }))
})
const words = computed(
  () =>
    `Over time: ${props.rung.points.map((one) => `${day(one.at, timeZone.value)} ${one.value ?? 'none'}`).join(', ')}`,
)
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" :width="WIDTH" role="img" :aria-label="words">
    <line x1="0" :x2="WIDTH" :y1="y(rung.mastery_cut)" :y2="y(rung.mastery_cut)" class="cut" />
    <polyline :points="points.map((one) => `${one.x},${one.y}`).join(' ')" />
    <circle v-for="(one, at) in points" :key="at" :cx="one.x" :cy="one.y" r="2.6" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
.cut {
  stroke: var(--jade);
  stroke-width: 1.4;
}
polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
circle {
  fill: var(--card);
  stroke: var(--ink);
  stroke-width: 1.4;
}
@media (max-width: 480px) {
  svg {
    width: 72px;
  }
}
</style>
