<script setup lang="ts">
import Ladder from '@/design/Ladder.vue'

defineProps<{ size?: number }>()
</script>

<template>
  <span class="brand"
    ><Ladder :level="2" :levels="4" :mastery-level="2" :size="size ?? 20" /><span class="words"
      >Jade Ladder</span
    ></span
  >
</template>

<style scoped>
.brand {
  display: inline-flex;
  align-items: center;
  gap: 9px;
  font: 600 17px var(--head);
  white-space: nowrap;
}
</style>
