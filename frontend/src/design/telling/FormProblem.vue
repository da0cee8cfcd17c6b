<script setup lang="ts">
import { NButton } from 'naive-ui'
import Notice from './Notice.vue'
import type { Problem } from '@/api/client'

/**
 * What is wrong with a form as a whole (what is wrong with a field stands at the field), and what to
 * do when another tab or a colleague has changed the same thing meanwhile.
 */
defineProps<{
  problem: Problem | null
  draft?: {
    meanwhile: boolean
    restored: boolean
    dirty: boolean
    showTheirs: () => void
    keepMine: () => void
  }
}>()
</script>

<template>
  <Notice v-if="draft?.meanwhile" clay role="alert">
    This was changed in the meantime, perhaps in another tab. What you typed is still here and not
    saved.
    <NButton class="link" text @click="draft.showTheirs()">Show what is there now</NButton> ·
    <NButton class="link" text @click="draft.keepMine()"> Keep mine, to be saved over it </NButton>
  </Notice>
  <Notice v-else-if="draft?.restored && draft.dirty" role="status">
    What you typed here before is still here, and not saved.
    <NButton class="link" text @click="draft.showTheirs()">Discard it</NButton>
  </Notice>
  <Notice
    v-else-if="problem && !problem.stale && !problem.errors.some((error) => error.field)"
    clay
    role="alert"
  >
    {{ problem.message }}
  </Notice>
</template>

<style scoped>
.notice {
  margin-bottom: 12px;
}
</style>
