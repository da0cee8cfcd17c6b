<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { typedNumber } from '@/design/format'
import type { DraftCriterion } from './criteria'

/** The weights as they come to 100%, and what can be done when they do not. */
const props = defineProps<{ criteria: DraftCriterion[]; weighted: boolean; final: boolean }>()
defineEmits<{ share: [how: 'missing' | 'equal']; 'remove-weights': [] }>()

const weightOf = (one: DraftCriterion) => typedNumber(one.weight ?? '') || 0
const sum = computed(() => props.criteria.reduce((total, one) => total + weightOf(one), 0))
const whole = computed(() => Math.abs(sum.value - 100) < 0.005)
const SHADES = ['var(--ink)', 'var(--ink-3)', 'var(--edge)', 'var(--ink-2)', 'var(--slate)']
</script>

<template>
  <h2>Weights</h2>
  <template v-if="weighted">
    <div class="bar" role="img" :aria-label="`Weights come to ${sum}%`">
      <i
        v-for="(one, index) in criteria"
        :key="one.key"
        :style="{
          width: `${Math.min(100, Math.max(0, weightOf(one)))}%`,
          background: SHADES[index % SHADES.length],
        }"
      />
    </div>
    <p class="small" :class="{ clay: !whole }">
      The weights come to {{ Number(sum.toFixed(2)) }}%<template v-if="whole">.</template>
      <template v-else>, not 100%: </template>
      <NButton v-if="!whole && !final" class="link" text @click="$emit('share', 'missing')">
        {{
          sum < 100
            ? `share out the missing ${Number((100 - sum).toFixed(2))}%`
            : 'scale them down to 100%'
        }}
      </NButton>
    </p>
    <p v-if="!final" class="small">
      <NButton class="link" text @click="$emit('share', 'equal')">All equal</NButton> ·
      <NButton class="link" text @click="$emit('remove-weights')">No weights</NButton>
    </p>
  </template>
  <p v-else class="small quiet">
    None: points are simply added.
    <NButton v-if="!final && criteria.length" class="link" text @click="$emit('share', 'equal')">
      Give weights
    </NButton>
  </p>
</template>

<style scoped>
h2 {
  margin: 18px 0 6px;
}
.bar {
  height: 8px;
  border-radius: 4px;
  display: flex;
  overflow: hidden;
  background: var(--line);
  margin: 6px 0 4px;
  gap: 1px;
}
</style>
