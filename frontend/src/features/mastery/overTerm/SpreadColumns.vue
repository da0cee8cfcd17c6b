<script setup lang="ts">
import { computed } from 'vue'
import type { ScaleOut, SpreadOnDayOut } from '@/api/schema'
import { day } from '@/design/format'

/**
 * The spread of a class over the term: a column for each day, its levels stacked from the ground up,
 * mastery and above in jade over a line; who needs evidence or has none is the empty part on top.
 */
const props = defineProps<{
  days: string[]
  spreads: (SpreadOnDayOut | null)[]
  scale: ScaleOut
}>()
const WIDTH = 228
const HEIGHT = 74
const GAP = 3
const all = (one: SpreadOnDayOut) =>
  one.at_level.reduce((sum, count) => sum + count, 0) + one.needing + one.without
const most = computed(() => Math.max(1, ...props.spreads.map((one) => (one ? all(one) : 0))))
const step = computed(() => WIDTH / Math.max(1, props.days.length))
const columns = computed(() =>
  props.spreads.map((one, at) => {
    if (!one) return null
    let ground = HEIGHT
    const rungs = one.at_level.map((count, level) => {
      const height = (count / most.value) * HEIGHT
      ground -= height
      return { level, y: ground, height, mastered: level >= props.scale.mastery_level }
    })
    const below = one.at_level
      .slice(0, props.scale.mastery_level)
      .reduce((sum, count) => sum + count, 0)
    const full = (all(one) / most.value) * HEIGHT
    return {
      x: at * step.value,
      rungs: rungs.filter((rung) => rung.height > 0),
      line: HEIGHT - (below / most.value) * HEIGHT,
      top: HEIGHT - full,
      full,
    }
  }),
)
const said = (one: SpreadOnDayOut | null) =>
  one
    ? `${one.mastered} of ${one.at_level.reduce((sum, count) => sum + count, 0)} mastered`
    : 'not taught'
const words = computed(() =>
  props.days.map((one, at) => `${day(one, 'UTC')}: ${said(props.spreads[at]!)}`).join('; '),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="words">
      <g v-for="(column, at) in columns" :key="at">
        <template v-if="column">
          <title>{{ day(days[at]!, 'UTC') }}: {{ said(spreads[at]!) }}</title>
          <rect
            class="all"
            :x="column.x + 0.5"
            :y="column.top + 0.5"
            :width="step - GAP - 1"
            :height="Math.max(0, column.full - 1)"
          />
          <rect
            v-for="rung in column.rungs"
            :key="rung.level"
            :class="rung.mastered ? 'mastered' : 'below'"
            :x="column.x"
            :y="rung.y"
            :width="step - GAP"
            :height="Math.max(1, rung.height - 1)"
          />
          <line
            class="cut"
            :x1="column.x - 1"
            :x2="column.x + step - GAP + 1"
            :y1="column.line"
            :y2="column.line"
          />
        </template>
      </g>
    </svg>
    <figcaption class="small quiet">
      <span>{{ day(days[0]!, 'UTC') }}</span><span v-if="days.length > 1">today</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  height: auto;
}
.all {
  fill: none;
  stroke: var(--line);
}
.mastered {
  fill: var(--jade);
}
.below {
  fill: var(--slate);
}
.cut {
  stroke: var(--ink);
  stroke-width: 1.5;
}
figcaption {
  display: flex;
  justify-content: space-between;
  font-size: 11px;
}
</style>
