<script setup lang="ts">
import type { RouteLocationRaw } from 'vue-router'
import type { EntryOut } from '@/api/schema'
import { dayAndTime } from '@/design/format'
import { useSession } from '@/shared/session'

/** The entries of other evidence of a student, each the way to it. */
defineProps<{ entries: EntryOut[]; to: (entry: number) => RouteLocationRaw }>()
const { timeZone } = useSession()
</script>

<template>
  <RouterLink
    v-for="one in entries"
    :key="one.number"
    class="entry"
    :to="to(one.number)"
    :title="one.beginning"
    >{{ dayAndTime(one.done_at, timeZone) }}
    <span v-if="!one.finished" class="clay small">{{
      one.begun ? 'not finished' : 'to mark'
    }}</span></RouterLink
  >
  <span v-if="!entries.length" class="quiet">none yet</span>
</template>

<style scoped>
.entry {
  display: inline-block;
  white-space: nowrap;
  margin-right: 14px;
}
</style>
