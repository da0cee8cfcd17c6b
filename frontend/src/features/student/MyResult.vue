<script setup lang="ts">
import { attemptWord } from '@/shared/states'
import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import { dayInWords, today } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import ResultView from '@/shared/student/ResultView.vue'
import MyWord from './MyWord.vue'

/** What was handed back of one attempt, and what the student says of it. */
const props = defineProps<{ taskId: number; attempt: number | null }>()
const { data: session, timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.ownResult(props.taskId, props.attempt),
  query: () =>
    props.attempt === null
      ? ask(
          api.GET('/api/my/tasks/{task_id}/results', {
            params: { path: { task_id: props.taskId } },
          }),
        )
      : ask(
          api.GET('/api/my/tasks/{task_id}/results/{attempt}', {
            params: { path: { task_id: props.taskId, attempt: props.attempt } },
          }),
        ),
})
const refresh = useRefresh().own
usePageTitle(() => data.value?.task.title)
</script>

<template>
  <div class="page wide">
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="page-head">
        <h1>{{ data.task.title }}</h1>
        <nav v-if="data.attempts.length > 1" aria-label="Attempts" class="actions row">
          <RouterLink
            v-for="number in data.attempts"
            :key="number"
            :to="{ name: 'my-result', params: { taskId, attempt: number } }"
            :aria-current="number === data.attempt ? 'page' : undefined"
            >{{ attemptWord(data.task.kind) }} {{ number }}</RouterLink
          >
        </nav>
      </div>
      <p class="print-only">
        {{ session?.person?.name }} · {{ data.task.class_name }} · {{ session?.school }} ·
        {{ dayInWords(today(timeZone)) }}
      </p>
      <ResultView :result="data">
        <MyWord :key="data.attempt" :result="data" class="no-print" @changed="refresh()" />
      </ResultView>
    </template>
  </div>
</template>

<style scoped>
.wide {
  max-width: 1280px;
}
[aria-current] {
  font-weight: 650;
  text-decoration: none;
}
@media print {
  .wide :deep(.result) {
    display: block;
  }
}
</style>
