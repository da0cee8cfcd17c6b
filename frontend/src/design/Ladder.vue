<script setup lang="ts">
import { computed } from 'vue'
import { ladderRungs } from './rungs'

/** The ladder: one rung per level, reached ones thick, the mastery rung the longest. */
const props = defineProps<{
  /** The level reached, 0 the lowest; null for none. */
  level: number | null
  levels: number
  masteryLevel: number
  size?: number
  /** Too little evidence: dashed. */
  uncertain?: boolean
  /** A text alternative; without one the ladder is decoration beside a text. */
  label?: string
}>()

const size = computed(() => props.size ?? 18)
const asNumber = computed(() => props.levels > 4 && size.value < 24)
const style = computed(() => ({
  width: `${size.value}px`,
  height: `${size.value}px`,
  background: ladderRungs({ ...props, size: size.value }),
}))
const mastered = computed(() => props.level !== null && props.level >= props.masteryLevel)
</script>

<template>
  <span
    v-if="asNumber"
    class="number"
    :class="{ mastered: mastered && !uncertain, uncertain }"
    :role="label ? 'img' : undefined"
    :aria-label="label"
    :aria-hidden="label ? undefined : true"
    >{{ level === null ? '–' : level + 1 }}{{ mastered ? '✓' : '' }}</span
  >
  <span
    v-else
    class="ladder"
    :style="style"
    :role="label ? 'img' : undefined"
    :aria-label="label"
    :aria-hidden="label ? undefined : true"
  />
</template>

<style scoped>
.ladder {
  display: inline-block;
  flex: none;
  print-color-adjust: exact;
  forced-color-adjust: none;
}
.number {
  font-weight: 650;
  font-size: 12px;
  color: var(--slate);
  min-width: 18px;
  display: inline-block;
  text-align: center;
}
.number.mastered {
  color: var(--jade-deep);
}
.number.uncertain {
  border-bottom: 1px dashed currentColor;
}
</style>
