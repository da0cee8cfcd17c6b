<script setup lang="ts">
import type { RevisionOut } from '@/api/schema'

/** Choosing one of a rubric's revisions. */
defineProps<{ label: string; name: string; number: number; revisions: RevisionOut[] }>()
defineEmits<{ pick: [number: number] }>()
</script>

<template>
  <label class="row small"
    >{{ label }}
    <select
      class="input"
      :value="number"
      :aria-label="name"
      @change="$emit('pick', Number(($event.target as HTMLSelectElement).value))"
    >
      <option v-for="one in revisions" :key="one.number" :value="one.number">
        {{ one.number }}{{ one.final_at ? '' : ', a draft' }}
      </option>
    </select></label
  >
</template>

<style scoped>
.input {
  width: auto;
}
</style>
