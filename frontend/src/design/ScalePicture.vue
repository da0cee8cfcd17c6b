<script setup lang="ts">
import { computed } from 'vue'
import { typedNumber } from './format'

/**
 * A proficiency scale as a ladder from the ground up: a rung per level, the mastery rung the
 * longest, and between them where each level begins to count.
 */
const props = defineProps<{
  levels: { name: string; value: string; cut: string }[]
  masteryLevel: number
}>()

const WIDTH = 300
/** Room for the cut scores: those of a scale to 100 or 10,000 are longer. */
const longest = computed(() => Math.max(0, ...props.levels.map((level) => level.cut.length)))
const RUNGS = computed(() => 66 + Math.max(0, longest.value - 4) * 7)
const step = computed(() => (props.levels.length > 6 ? 32 : 42))
const height = computed(() => (props.levels.length - 1) * step.value + 36)

const rungs = computed(() =>
  props.levels.map((level, index) => {
    const y = height.value - 16 - index * step.value
    const below = props.levels[index - 1]
    const up = below
      ? (typedNumber(level.cut) - typedNumber(below.value)) /
        (typedNumber(level.value) - typedNumber(below.value))
      : 1
    const placed = up > 0 && up <= 1
    return {
      ...level,
      y,
      mastered: index >= props.masteryLevel,
      long: index === props.masteryLevel,
      /** Where it begins to count: below its rung, unless that is at the rung itself. */
      cutY: below && placed && up < 1 ? y + step.value * (1 - up) : null,
    }
  }),
)
const words = computed(() =>
  props.levels
    .map(
      (level, index) =>
        `${level.name} from ${level.cut}${index === props.masteryLevel ? ', mastery' : ''}`,
    )
    .join('; '),
)
</script>

<template>
  <svg
    class="picture"
    role="img"
    :aria-label="`Ladder from the lowest level up: ${words}`"
    :viewBox="`0 0 ${WIDTH} ${height}`"
    :style="{ maxWidth: `${WIDTH}px` }"
  >
    <g v-for="(rung, index) in rungs" :key="index">
      <template v-if="rung.cutY !== null">
        <line class="cut" :x1="RUNGS - 14" :x2="RUNGS + 74" :y1="rung.cutY" :y2="rung.cutY" />
        <text class="from" :x="RUNGS - 18" :y="rung.cutY + 4">from {{ rung.cut }}</text>
      </template>
      <rect
        :class="{ mastered: rung.mastered }"
        :x="rung.long ? RUNGS : RUNGS + 11"
        :y="rung.y - 4"
        :width="rung.long ? 60 : 38"
        height="8"
        rx="1.5"
      />
      <text class="name" :x="RUNGS + 84" :y="rung.y + 4.5">
        {{ rung.name || '…' }}
        <tspan class="value" dx="7">{{ rung.value }}</tspan>
      </text>
    </g>
  </svg>
</template>

<style scoped>
.picture {
  width: 100%;
  display: block;
}
rect {
  fill: var(--slate);
}
rect.mastered {
  fill: var(--jade);
}
.cut {
  stroke: var(--edge);
  stroke-dasharray: 3 3;
}
text {
  font: 12.5px var(--body);
  fill: var(--ink);
}
.name {
  font-weight: 600;
}
.value {
  font-weight: 400;
  fill: var(--ink-3);
}
.from {
  font-size: 11.5px;
  fill: var(--ink-2);
  text-anchor: end;
}
</style>
