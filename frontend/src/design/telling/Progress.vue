<script setup lang="ts">
import { computed } from 'vue'

/** How far a count has come: ink, since it is no statement about mastery. */
const props = defineProps<{ done: number; of: number }>()
const share = computed(() => (props.of > 0 ? Math.min(100, (props.done / props.of) * 100) : 0))
</script>

<template>
  <span class="progress" aria-hidden="true"><i :style="{ width: `${share}%` }" /></span>
</template>

<style scoped>
.progress {
  display: block;
  width: 150px;
  max-width: 100%;
  height: 7px;
  border-radius: 4px;
  background: var(--line);
  overflow: hidden;
  margin: 5px 0 3px;
}
.progress i {
  display: block;
  height: 100%;
  background: var(--ink-2);
}
</style>
