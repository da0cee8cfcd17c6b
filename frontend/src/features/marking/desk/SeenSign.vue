<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { MarkOut } from '@/api/schema'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { seenWords } from '@/shared/student/handedBack'

/** What the student sees of this mark now, and whether it was changed since. */
const props = defineProps<{
  classId: number
  taskId: number
  studentId: number
  mark: MarkOut | null
}>()
const { timeZone } = useSession()
const { data } = useQuery({
  key: () => keys.handingBack(props.taskId),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/handing-back', { params: { path: { task_id: props.taskId } } }),
    ),
})
const words = computed(() => {
  const row = data.value?.find((one) => one.student_id === props.studentId)
  if (!row || !(row.seen_at || row.coming_at)) return null
  // What was saved here since the list was fetched is a change, too.
  const changed = row.changed || (props.mark?.version ?? 0) !== row.version
  return seenWords({ ...row, changed }, timeZone.value)
})
</script>

<template>
  <p v-if="words" class="small seen" :class="words.clay ? 'clay' : 'quiet'">
    {{ words.text }} ·
    <RouterLink :to="{ name: 'task', params: { classId, taskId } }">{{
      words.clay ? 'hand back the changes' : 'what they see'
    }}</RouterLink>
    ·
    <RouterLink :to="{ name: 'result-page', params: { classId, taskId, studentId } }"
      >print it</RouterLink
    >
  </p>
</template>

<style scoped>
.seen {
  padding: 5px 16px;
  border-top: 1px solid var(--line);
}
</style>
