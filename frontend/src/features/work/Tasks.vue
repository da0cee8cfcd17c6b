<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { useSession } from '@/shared/session'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import EmptyState from '@/design/EmptyState.vue'
import Progress from '@/design/Progress.vue'
import QueryState from '@/design/QueryState.vue'
import { dayAndTime } from '@/design/format'
import TaskForm from './TaskForm.vue'
import { countWords } from '@/shared/states'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const router = useRouter()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.tasks(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/tasks', { params: { path: { class_id: props.classId } } }),
    ),
})
const making = ref(false)

function made(taskId?: number) {
  making.value = false
  if (taskId) void router.push({ name: 'task', params: { classId: props.classId, taskId } })
}

useKeys('Tasks', [{ keys: ['a'], does: 'Set a task', run: () => void (making.value = true) }])
usePageTitle('Tasks')
</script>

<template>
  <div :class="{ split: making }">
    <div class="page">
      <div class="page-head">
        <h1>Tasks</h1>
        <div class="actions">
          <button class="btn main" type="button" @click="making = true">
            Set a task <kbd>A</kbd>
          </button>
        </div>
      </div>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState v-if="data && !data.length && !making" title="No task yet">
        A task is work that is set: handed in, or observed in the room. It is marked with a final
        rubric, and what is marked becomes evidence.
        <template #steps
          ><button class="btn main" type="button" @click="making = true">
            Set the first task
          </button></template
        >
      </EmptyState>
      <div v-if="data?.length" class="table-scroll">
        <table class="list">
          <thead>
            <tr>
              <th>Task</th>
              <th>Rubric</th>
              <th>Due</th>
              <th>Where it stands</th>
              <th class="num">To mark</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="task in data" :key="task.id">
              <td>
                <RouterLink :to="{ name: 'task', params: { classId, taskId: task.id } }"
                  ><b>{{ task.title }}</b></RouterLink
                >
                <span v-if="task.kind === 'observed'" class="tag">observed</span>
                <span v-if="task.practice" class="tag">practice</span>
              </td>
              <td>
                <RouterLink
                  class="quiet"
                  :to="{ name: 'rubric', params: { classId, rubricId: task.rubric_id } }"
                  >{{ task.rubric_title }}</RouterLink
                >
              </td>
              <td class="due">
                {{ task.due_at ? dayAndTime(task.due_at, timeZone) : 'no due time' }}
              </td>
              <td>
                <Progress :done="task.done" :of="task.students - task.missing - task.excused" />
                <span class="small quiet">{{ countWords(task) }}</span>
              </td>
              <td class="num">
                <RouterLink
                  v-if="task.to_mark"
                  class="btn"
                  :to="{ name: 'desk', params: { classId, taskId: task.id } }"
                  >Mark {{ task.to_mark }}</RouterLink
                >
                <span v-else class="quiet">{{ task.done ? 'all marked' : '–' }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
    <aside v-if="making" class="side" aria-label="New task">
      <TaskForm :class-id="classId" @done="made" />
    </aside>
  </div>
</template>

<style scoped>
td .tag {
  margin-left: 8px;
}
.due {
  white-space: nowrap;
}
</style>
