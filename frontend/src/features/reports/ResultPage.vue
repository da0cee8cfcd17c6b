<script setup lang="ts">
import { nowIso } from '@/api/clock'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { day } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import ResultView from '@/shared/student/ResultView.vue'
import TakeAlong from '@/shared/student/TakeAlong.vue'

/** A student's work with its levels and remarks, to be printed or saved as PDF by the teacher. */
const props = defineProps<{ classId: number; taskId: number; studentId: number }>()
const { data: session, timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.resultOfStudent(props.taskId, props.studentId),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/result', {
        params: { path: { task_id: props.taskId, student_id: props.studentId } },
      }),
    ),
})
const { data: rows } = useQuery({
  key: () => keys.handingBack(props.taskId),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/handing-back', { params: { path: { task_id: props.taskId } } }),
    ),
})
const row = computed(() => rows.value?.find((one) => one.student_id === props.studentId))
/** As it is seen, or as it would be. */
const seen = computed(() => Boolean(row.value?.seen_at) && !row.value?.changed)
usePageTitle(() => data.value && `${data.value.task.title}: ${row.value?.name ?? ''}`)
</script>

<template>
  <div class="page wide">
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="page-head">
        <h1>{{ data.task.title }}: {{ row?.name }}</h1>
        <div class="actions no-print">
          <RouterLink :to="{ name: 'desk', params: { classId, taskId, studentId } }"
            >Back to the desk</RouterLink
          >
          <TakeAlong
            :result="data"
            :address="`/api/tasks/${taskId}/students/${studentId}/result/pdf`"
            :name="`${data.task.title} ${row?.name ?? ''}`"
            main
          />
        </div>
      </div>
      <p class="print-only">
        {{ data.task.class_name }} · {{ session?.school }} ·
        {{ day(nowIso(), timeZone) }}
      </p>
      <ResultView :result="data" :preview="!seen" teacher />
    </template>
  </div>
</template>
