<script setup lang="ts">
import type { MarkOut } from '@/api/schema'

/** The attempts of a student at the desk, the open one among them. */
defineProps<{ classId: number; taskId: number; mark: MarkOut }>()
</script>

<template>
  <nav v-if="mark.attempts > 1" class="small" aria-label="Attempts">
    <RouterLink
      v-for="number in mark.attempts"
      :key="number"
      :to="{
        name: 'desk',
        params: { classId, taskId, studentId: mark.student.id, entry: number },
      }"
      :aria-current="number === mark.attempt ? 'page' : undefined"
      >Attempt {{ number }}</RouterLink
    >
    <RouterLink :to="{ name: 'attempts', params: { classId, taskId, studentId: mark.student.id } }"
      >Side by side</RouterLink
    >
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding: 2px 0;
}
[aria-current] {
  font-weight: 650;
  color: var(--ink);
  text-decoration: none;
}
</style>
