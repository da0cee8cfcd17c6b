<script setup lang="ts">
import { computed } from 'vue'
import { classRungs } from './rungs'

/** The same rungs, each as long as the share of students who stand on it. */
const props = defineProps<{ atLevel: number[]; masteryLevel: number; label: string }>()
const style = computed(() => ({
  background: classRungs(props.atLevel, props.masteryLevel, 38, 24),
}))
</script>

<template>
  <span class="class-ladder" :style="style" role="img" :aria-label="label" />
</template>

<style scoped>
.class-ladder {
  display: block;
  width: 38px;
  height: 24px;
  margin: 3px auto 0;
  print-color-adjust: exact;
  forced-color-adjust: none;
}
</style>
