<script setup lang="ts">
import { NButton } from 'naive-ui'
import Notice from './Notice.vue'
import type { Problem } from '@/api/client'

/** What stands in the place of data that is still coming, or did not come. */
defineProps<{ error: Problem | Error | null; pending: boolean }>()
defineEmits<{ again: [] }>()
</script>

<template>
  <Notice v-if="error" clay role="alert">
    {{ error.message }}
    <NButton class="link" text @click="$emit('again')">Try again</NButton>
  </Notice>
  <p v-else-if="pending" class="quiet loading" role="status">Loading …</p>
</template>

<style scoped>
.loading {
  padding: 24px 0;
  animation: appear 0.3s 0.4s both;
}
@keyframes appear {
  from {
    opacity: 0;
  }
}
</style>
