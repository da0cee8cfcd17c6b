<script setup lang="ts">
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { useQuery } from '@pinia/colada'
import { useSession } from '@/shared/session'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import EmptyState from '@/design/telling/EmptyState.vue'
import Progress from '@/design/telling/Progress.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { dayAndTime } from '@/design/format'
import { countWords } from '@/shared/states'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.pile(props.classId),
  query: () =>
    ask(api.GET('/api/classes/{class_id}/pile', { params: { path: { class_id: props.classId } } })),
  staleTime: 0,
})
usePageTitle('Marking pile')
</script>

<template>
  <div class="page">
    <div class="page-head"><h1>Marking pile</h1></div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-if="data && !data.length" title="Nothing waits to be marked">
      Work comes here as it is handed in or entered. Missing and excused work never does.
      <template #steps
        ><LinkButton :to="{ name: 'tasks', params: { classId } }"
          >See the tasks</LinkButton
        ></template
      >
    </EmptyState>
    <ul>
      <li v-for="task in data" :key="task.id">
        <div>
          <b>{{ task.title }}</b> <Tag v-if="task.kind === 'observed'">observed</Tag>
          <p class="small quiet">
            {{ task.due_at ? `due ${dayAndTime(task.due_at, timeZone)}` : 'no due time' }}
          </p>
        </div>
        <div>
          <Progress :done="task.done" :of="task.done + task.to_mark" />
          <span class="small quiet">{{ countWords(task) }}</span>
        </div>
        <LinkButton main :to="{ name: 'desk', params: { classId, taskId: task.id } }"
          >Mark {{ task.to_mark }}</LinkButton
        >
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 960px;
}
li {
  display: grid;
  grid-template-columns: 1fr 320px 110px;
  gap: 16px;
  align-items: center;
  padding: 12px 0;
  border-top: 1px solid var(--line);
}
@media (max-width: 600px) {
  li {
    grid-template-columns: 1fr;
    gap: 8px;
  }
}
</style>
