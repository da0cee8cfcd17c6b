<script setup lang="ts">
import { searcher } from '@/design/search'
import SidePanel from '@/design/controls/SidePanel.vue'
import TextField from '@/design/controls/TextField.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import TaskForm from './form/TaskForm.vue'
import TaskRow from './TaskRow.vue'
import { useClass } from '@/shared/classes'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const router = useRouter()
const klass = useClass(() => props.classId)
const readOnly = () => klass.value?.set_aside ?? false
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.tasks(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/tasks', { params: { path: { class_id: props.classId } } }),
    ),
})
const making = ref(false)
const wanted = ref('')
const shown = computed(() => {
  const has = searcher(wanted.value)
  return (data.value ?? []).filter((task) =>
    has(task.title, task.rubric?.title ?? '', task.category),
  )
})
/** In the server's order: what waits first, then what is coming, then what is past. */
const STAGES = { 'to-mark': 'To mark', coming: 'Open and coming', past: 'Past' }
const groups = computed(() =>
  Object.entries(STAGES)
    .map(([stage, title]) => ({
      stage,
      title,
      tasks: shown.value.filter((task) => task.stage === stage),
    }))
    .filter((group) => group.tasks.length),
)

function made(taskId?: number) {
  making.value = false
  if (taskId) void router.push({ name: 'task', params: { classId: props.classId, taskId } })
}

useKeys('Tasks', [
  { keys: ['a'], does: 'Set a task', run: () => !readOnly() && void (making.value = true) },
  {
    keys: ['Escape'],
    does: 'Close what is open beside the list',
    typing: true,
    run: () => (making.value ? void (making.value = false) : false),
  },
])
usePageTitle('Tasks')
</script>

<template>
  <div :class="{ split: making }">
    <div class="page">
      <div class="page-head">
        <h1>Tasks</h1>
        <div class="actions">
          <TextField
            v-if="(data?.length ?? 0) > 5"
            v-model="wanted"
            class="search"
            label="Search the tasks"
            placeholder="Search title, rubric, category"
            type="search"
            bare
          />
          <NButton v-if="!readOnly()" type="primary" @click="making = true">
            Set a task <kbd>A</kbd>
          </NButton>
        </div>
      </div>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState v-if="data && !data.length && !making" title="No task yet">
        A task is work that is set: handed in, or observed in the room. It is marked with a final
        rubric, and what is marked becomes evidence.
        <template #steps
          ><NButton type="primary" @click="making = true"> Set the first task </NButton></template
        >
      </EmptyState>
      <p v-if="wanted && !shown.length" class="quiet">No task has “{{ wanted }}” in it.</p>
      <section v-for="group in groups" :key="group.stage" :aria-label="group.title">
        <h2>{{ group.title }}</h2>
        <ul>
          <TaskRow v-for="task in group.tasks" :key="task.id" :task="task" :class-id="classId" />
        </ul>
      </section>
    </div>
    <SidePanel v-if="making" label="New task" open @close="making = false">
      <TaskForm :class-id="classId" @done="made" />
    </SidePanel>
  </div>
</template>

<style scoped>
.search {
  width: 240px;
}
section {
  margin-bottom: 18px;
}
section h2 {
  border-bottom: 1px solid var(--edge);
  padding-bottom: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
