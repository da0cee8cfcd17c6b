<script setup lang="ts">
import type { PartOfTaskOut } from '@/api/schema'
import { several } from '@/design/format'

/** What a student has handed in, part by part; a row of work leads to where it is read. */
defineProps<{ parts: PartOfTaskOut[] }>()
const name = (part: PartOfTaskOut) =>
  part.kind === 'text' ? `text, ${several(part.words ?? 0, 'word')}` : (part.name ?? 'file')
</script>

<template>
  <span v-for="part in parts" :key="part.id" class="chip" :title="name(part)">{{
    name(part)
  }}</span>
</template>

<style scoped>
.chip {
  display: inline-block;
  max-width: 170px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  vertical-align: middle;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--card);
  padding: 1px 8px;
  margin: 1px 6px 1px 0;
  font-size: 12.5px;
}
</style>
