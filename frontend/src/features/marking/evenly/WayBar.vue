<script setup lang="ts">
import { NButton } from 'naive-ui'
import { WAYS, type Way } from './useEvenly'

/** How the rubric is gone through, and whether it is shown how the levels have fallen. */
const way = defineModel<Way>('way', { required: true })
const spread = defineModel<boolean>('spread', { required: true })
</script>

<template>
  <div class="views" role="group" aria-label="How the rubric is gone through">
    <NButton
      v-for="one in WAYS"
      :key="one.name"
      size="small"
      :quaternary="way !== one.name"
      :aria-pressed="way === one.name"
      @click="way = one.name"
      >{{ one.label }}</NButton
    >
    <kbd>G</kbd>
    <NButton
      class="push"
      size="small"
      :quaternary="!spread"
      :aria-pressed="spread"
      @click="spread = !spread"
      >Spread <kbd>S</kbd></NButton
    >
  </div>
</template>

<style scoped>
.views {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
  padding: 8px 12px;
  border-bottom: 1px solid var(--line);
}
</style>
