<script setup lang="ts">
import type { Problem } from '@/api/client'

/**
 * What is wrong with a form as a whole (what is wrong with a field stands at the field), and what to
 * do when another tab or a colleague has changed the same thing meanwhile.
 */
defineProps<{
  problem: Problem | null
  draft?: { meanwhile: boolean; showTheirs: () => void; keepMine: () => void }
}>()
</script>

<template>
  <p v-if="draft?.meanwhile" class="notice clay" role="alert">
    This was changed in the meantime, perhaps in another tab. What you typed is still here and not
    saved.
    <button class="link" type="button" @click="draft.showTheirs()">Show what is there now</button> ·
    <button class="link" type="button" @click="draft.keepMine()">
      Keep mine, to be saved over it
    </button>
  </p>
  <p
    v-else-if="problem && !problem.stale && !problem.errors.some((error) => error.field)"
    class="notice clay"
    role="alert"
  >
    {{ problem.message }}
  </p>
</template>

<style scoped>
.notice {
  margin-bottom: 12px;
}
</style>
