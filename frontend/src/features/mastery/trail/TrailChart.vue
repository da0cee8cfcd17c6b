<script setup lang="ts">
import { computed } from 'vue'
import type { TrailOut, TrailPointOut } from '@/api/schema'
import { day } from '@/design/format'
import { handsIn } from '@/shared/kinds'

/**
 * The trail as a step line: mastery as it stood, against the pieces of evidence (circles handed in,
 * squares observed, diamonds notes; a line under those with something carried over, a cross through
 * those that are set aside). What counted while a level was judged is drawn in plum, what is
 * calculated meanwhile thin beside it; a dotted upright is where another method began to hold. `other`
 * is the same evidence under another method. The list beside it says the same in words.
 */
const props = defineProps<{
  trail: TrailOut
  timeZone: string
  other?: { name: string; points: TrailPointOut[] } | null
}>()
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

/** A step line through points, broken where there is no value; the last one goes on to the edge. */
function steps(points: { at: string; value: string | null }[]): string {
  const parts: string[] = []
  let drawn = false
  for (const { at, value } of points) {
    const to = x(at).toFixed(1)
    if (value === null) {
      if (drawn) parts.push(`H${to}`)
      drawn = false
      continue
    }
    parts.push(drawn ? `H${to} V${y(value).toFixed(1)}` : `M${to} ${y(value).toFixed(1)}`)
    drawn = true
  }
  return drawn ? `${parts.join(' ')} H${WIDTH - RIGHT}` : parts.join(' ')
}

/** Whether a judgement held from each point on. */
const judged = computed(() => {
  let held = false
  return props.trail.points.map((point) => {
    if (point.by === 'judged') held = true
    if (point.by === 'lifted') held = false
    return held
  })
})
const line = computed(() => steps(props.trail.points))
const calculated = computed(() =>
  judged.value.includes(true)
    ? steps(props.trail.points.map(({ at, calculated }) => ({ at, value: calculated })))
    : '',
)
/** The stretches in which a judgement held, over the line. */
const plum = computed(() => {
  const all = props.trail.points
  return all
    .map((point, at) => {
      if (!judged.value[at] || point.value === null) return ''
      const end = all[at + 1] ? x(all[at + 1]!.at) : WIDTH - RIGHT
      return `M${x(point.at).toFixed(1)} ${y(point.value).toFixed(1)} H${end.toFixed(1)}`
    })
    .join(' ')
})
const methodChanges = computed(() => {
  const spans = props.trail.methods_before
  return spans
    .map((one, at) => ({
      at: one.until,
      words: `from here by ${(spans[at + 1]?.method ?? props.trail.method).name}`,
    }))
    .filter((one) => Date.parse(one.at) >= first.value && Date.parse(one.at) <= last.value)
})
const otherLine = computed(() => (props.other ? steps(props.other.points) : ''))
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
    ...(all.some((one) => handsIn(one.kind)) ? ['○ handed in'] : []),
    ...(all.some((one) => one.kind && !handsIn(one.kind)) ? ['□ observed'] : []),
    ...(all.some((one) => one.note) ? ['◇ note'] : []),
    ...(all.some((one) => one.carried.length) ? ['_ with carried over'] : []),
    ...(all.some((one) => one.aside) ? ['✕ set aside'] : []),
    ...(calculated.value ? ['━ judged (plum), ╌ calculated'] : []),
    ...(methodChanges.value.length ? ['┊ another method'] : []),
    ...(props.other ? [`┄ ${props.other.name}`] : []),
  ]
})
const words = computed(() => {
  const points = props.trail.points.map(
    (point, at) =>
      `${day(point.at, props.timeZone)} ${point.value ?? 'nothing'}${judged.value[at] ? ' judged' : ''}`,
  )
  const changes = methodChanges.value.map((one) => `${day(one.at, props.timeZone)} ${one.words}`)
  return [
    `Mastery over time: ${points.join(', ')}`,
    ...changes,
    `Mastery from ${props.trail.scale.mastery_cut}.`,
  ].join('. ')
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
    <line
      v-for="one in methodChanges"
      :key="one.at"
      :x1="x(one.at)"
      :x2="x(one.at)"
      :y1="TOP"
      :y2="HEIGHT - BOTTOM"
      class="method"
    >
      <title>{{ one.words }}</title>
    </line>
    <path v-if="calculated" :d="calculated" class="calculated" />
    <path v-if="otherLine" :d="otherLine" class="other" />
    <path :d="line" class="line" />
    <path v-if="plum" :d="plum" class="plum" />
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
        v-else-if="!handsIn(piece.kind)"
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
.line,
.plum,
.calculated,
.other {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.2;
}
.plum {
  stroke: var(--plum);
  stroke-width: 4;
}
.calculated {
  stroke-width: 1.2;
  stroke-dasharray: 5 3;
}
.other {
  stroke: var(--focus);
  stroke-width: 1.8;
  stroke-dasharray: 2 3;
}
.method {
  stroke: var(--ink-3);
  stroke-dasharray: 1 3;
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
