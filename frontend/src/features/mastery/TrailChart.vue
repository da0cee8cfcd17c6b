<script setup lang="ts">
import { computed } from 'vue'
import type { TrailOut } from '@/api/schema'
import { day } from '@/design/format'

/**
 * The trail as a step line: mastery as it stood, against the pieces of evidence (circles handed in,
 * squares observed, diamonds notes; a line under those with something carried over, a cross through
 * those that are set aside). The list beside it says the same in words.
 */
const props = defineProps<{ trail: TrailOut; timeZone: string }>()
const WIDTH = 346
const HEIGHT = 168
const LEFT = 26
const RIGHT = 8
const TOP = 10
const BOTTOM = 24

const values = computed(() => props.trail.scale.levels.map((level) => Number(level.value)))
const low = computed(() => values.value[0]!)
const high = computed(() => values.value.at(-1)!)
const times = computed(() => [
  ...props.trail.points.map((point) => Date.parse(point.at)),
  ...props.trail.pieces.map((piece) => Date.parse(piece.at)),
])
const first = computed(() => Math.min(...times.value))
const last = computed(() => Math.max(...times.value))

function x(iso: string): number {
  const span = last.value - first.value
  const share = span ? (Date.parse(iso) - first.value) / span : 0.5
  return LEFT + 14 + share * (WIDTH - LEFT - RIGHT - 28)
}

function y(value: string | number): number {
  const share = (Number(value) - low.value) / (high.value - low.value)
  return HEIGHT - BOTTOM - Math.max(0, Math.min(1, share)) * (HEIGHT - TOP - BOTTOM)
}

const path = computed(() => {
  const [start, ...rest] = props.trail.points
  if (!start) return ''
  const steps = rest.map((point) => `H${x(point.at).toFixed(1)} V${y(point.value).toFixed(1)}`)
  return `M${x(start.at).toFixed(1)} ${y(start.value).toFixed(1)} ${steps.join(' ')} H${WIDTH - RIGHT}`
})
const cut = computed(() => y(props.trail.scale.mastery_cut))

/** Dates below the line, leaving out those that would run into each other. */
const dates = computed(() => {
  const found: { at: number; text: string }[] = []
  for (const point of props.trail.points) {
    const at = x(point.at)
    if (!found.length || at - found.at(-1)!.at > 44)
      found.push({ at, text: day(point.at, props.timeZone) })
  }
  return found
})
/** What the signs stand for, as far as they are there. */
const signs = computed(() => {
  const all = props.trail.pieces
  return [
    ...(all.some((one) => one.kind === 'handed-in') ? ['○ handed in'] : []),
    ...(all.some((one) => one.kind && one.kind !== 'handed-in') ? ['□ observed'] : []),
    ...(all.some((one) => one.note) ? ['◇ note'] : []),
    ...(all.some((one) => one.carried.length) ? ['_ with carried over'] : []),
    ...(all.some((one) => one.aside) ? ['✕ set aside'] : []),
  ]
})
const words = computed(() => {
  const points = props.trail.points.map(
    (point) => `${day(point.at, props.timeZone)} ${point.value}`,
  )
  return `Mastery over time: ${points.join(', ')}. Mastery from ${props.trail.scale.mastery_cut}.`
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="words">
    <rect
      :x="LEFT"
      :y="TOP"
      :width="WIDTH - LEFT - RIGHT"
      :height="Math.max(0, cut - TOP)"
      class="band"
    />
    <g v-for="value in values" :key="value">
      <line :x1="LEFT" :x2="WIDTH - RIGHT" :y1="y(value)" :y2="y(value)" class="grid" />
      <text x="2" :y="y(value) + 4">{{ value }}</text>
    </g>
    <line :x1="LEFT" :x2="WIDTH - RIGHT" :y1="cut" :y2="cut" class="cut" />
    <text :x="LEFT + 4" :y="cut - 4" class="cut-text">mastery, {{ trail.scale.mastery_cut }}</text>
    <path :d="path" class="line" />
    <template
      v-for="piece in trail.pieces"
      :key="`${piece.note?.id} ${piece.task_id} ${piece.attempt}`"
    >
      <path
        v-if="piece.note"
        :d="`M${x(piece.at)} ${y(piece.value) - 6.5} l6.5 6.5 l-6.5 6.5 l-6.5 -6.5 z`"
        class="piece"
      />
      <rect
        v-else-if="piece.kind !== 'handed-in'"
        :x="x(piece.at) - 4.5"
        :y="y(piece.value) - 4.5"
        width="9"
        height="9"
        class="piece"
        :class="{ out: !piece.counted }"
      />
      <circle
        v-else
        :cx="x(piece.at)"
        :cy="y(piece.value)"
        r="4.5"
        class="piece"
        :class="{ out: !piece.counted }"
      />
      <path
        v-if="piece.carried.length"
        :d="`M${x(piece.at) - 5} ${y(piece.value) + 9} h10`"
        class="carried"
      />
      <path
        v-if="piece.aside"
        :d="`M${x(piece.at) - 7} ${y(piece.value) - 7} l14 14 m0 -14 l-14 14`"
        class="aside"
      />
    </template>
    <text v-for="one in dates" :key="one.at" :x="one.at" :y="HEIGHT - 6" text-anchor="middle">
      {{ one.text }}
    </text>
  </svg>
  <p v-if="signs.length > 1" class="legend" aria-hidden="true">
    <span v-for="sign in signs" :key="sign">{{ sign }}</span>
  </p>
</template>

<style scoped>
.carried {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  color: var(--ink-3);
  font-size: 12px;
}
/* Set aside: crossed out. */
.aside {
  stroke: var(--clay);
  stroke-width: 1.5;
}
svg {
  width: 100%;
  font: 11px var(--body);
}
text {
  fill: var(--ink-3);
}
.band {
  fill: var(--jade-wash);
}
.grid {
  stroke: var(--line);
}
.cut {
  stroke: var(--jade);
  stroke-width: 1.6;
}
.cut-text {
  fill: var(--jade-deep);
  paint-order: stroke;
  stroke: var(--jade-wash);
  stroke-width: 3px;
}
.line {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.2;
}
.piece {
  fill: var(--card);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.piece.out {
  stroke-dasharray: 2 2;
}
</style>
