<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/useSending'
import type { StudentAtTaskOut } from '@/api/schema'
import QueryState from '@/design/QueryState.vue'
import { dayAndTime, several } from '@/design/format'
import TaskForm from './TaskForm.vue'
import TimesForm from './TimesForm.vue'
import WorkForm from './WorkForm.vue'
import { countWords, stateWords } from '@/shared/states'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number; taskId: number }>()
const router = useRouter()
const { timeZone } = useSession()
const {
  data: task,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.task(props.taskId),
  query: () =>
    ask(api.GET('/api/tasks/{task_id}', { params: { path: { task_id: props.taskId } } })),
})
const entering = ref<number | null>(null)
const refresh = useRefresh().tasks
const { problem, send } = useSending(refresh)
const observed = computed(() => task.value?.kind === 'observed')
/** Whose time is to be corrected. */
const picked = ref<number[]>([])
const correcting = ref(false)
const dated = computed(() => task.value?.where.filter((one) => one.dating) ?? [])
const chosen = computed(() => dated.value.filter((one) => picked.value.includes(one.id)))
const all = computed({
  get: () => dated.value.length > 0 && chosen.value.length === dated.value.length,
  set: (on) => (picked.value = on ? dated.value.map((one) => one.id) : []),
})

async function corrected() {
  correcting.value = false
  picked.value = []
  await refresh()
}

function howDated(student: StudentAtTaskOut): string {
  if (student.corrected) return 'corrected'
  return { 'handed-in': '', observed: '', 'on-paper': 'on paper', undecided: '' }[
    student.dating ?? 'undecided'
  ]
}

const excuse = (student: StudentAtTaskOut) =>
  send(() =>
    ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/excused', {
        params: { path: { task_id: props.taskId, student_id: student.id } },
        body: { excused: student.state !== 'excused' },
      }),
    ),
  )

const removing = useSending()
async function remove() {
  const done = await removing.send(() =>
    ask(api.DELETE('/api/tasks/{task_id}', { params: { path: { task_id: props.taskId } } })),
  )
  problem.value = removing.problem.value
  if (!done) return
  await router.push({ name: 'tasks', params: { classId: props.classId } })
  await refresh()
}
usePageTitle(() => task.value?.title)
</script>

<template>
  <QueryState v-if="!task" class="page" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else class="split">
    <div class="page">
      <div class="page-head">
        <h1>{{ task.title }}</h1>
        <span v-if="observed" class="tag">observed</span>
        <span v-if="task.practice" class="tag">practice</span>
        <div class="actions">
          <RouterLink class="btn main" :to="{ name: 'desk', params: { classId, taskId } }">
            {{ task.to_mark ? `Mark ${task.to_mark}` : 'Open the desk' }}
          </RouterLink>
        </div>
      </div>
      <p class="quiet lead">
        {{ task.due_at ? `Due ${dayAndTime(task.due_at, timeZone)}` : 'No due time' }} ·
        {{ countWords(task) }} ·
        <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: task.rubric_id } }">{{
          task.rubric_title
        }}</RouterLink>
        <template v-if="task.revision < task.newest_revision">
          · by revision {{ task.revision }}:
          <RouterLink :to="{ name: 'revisions', params: { classId, rubricId: task.rubric_id } }"
            >see revision {{ task.newest_revision }}</RouterLink
          >
        </template>
      </p>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <TimesForm
        v-if="correcting && chosen.length"
        :key="picked.join(' ')"
        :task-id="taskId"
        :students="chosen"
        :due-at="task.due_at"
        @done="corrected"
        @cancel="correcting = false"
      />
      <p v-else-if="chosen.length" class="row picked">
        <button class="btn" type="button" @click="correcting = true">
          Correct the time of {{ several(chosen.length, 'student') }}
        </button>
      </p>
      <div class="table-scroll">
        <table class="list">
          <thead>
            <tr>
              <th class="pick">
                <input
                  v-if="dated.length"
                  v-model="all"
                  type="checkbox"
                  aria-label="Choose all whose work is dated"
                />
              </th>
              <th>Student</th>
              <th>{{ observed ? 'Observed' : 'Done' }}</th>
              <th>State</th>
              <th><span class="visually-hidden">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <template v-for="student in task.where" :key="student.id">
              <tr>
                <td class="pick">
                  <input
                    v-if="student.dating"
                    v-model="picked"
                    type="checkbox"
                    :value="student.id"
                    :aria-label="`Choose ${student.name}`"
                  />
                </td>
                <td>
                  <RouterLink
                    :to="{ name: 'desk', params: { classId, taskId, studentId: student.id } }"
                    >{{ student.name }}</RouterLink
                  >
                </td>
                <td class="quiet">
                  {{ student.done_at ? dayAndTime(student.done_at, timeZone) : '–' }}
                  <span v-if="howDated(student)" class="tag">{{ howDated(student) }}</span>
                </td>
                <td>
                  <span
                    class="tag"
                    :class="{ clay: stateWords(student.state, student.left).clay }"
                    >{{ stateWords(student.state, student.left).text }}</span
                  >
                </td>
                <td class="num">
                  <button
                    v-if="!observed"
                    class="link"
                    type="button"
                    :aria-expanded="entering === student.id"
                    @click="entering = entering === student.id ? null : student.id"
                  >
                    {{ student.has_work ? 'Replace work' : 'Enter work'
                    }}<span class="visually-hidden"> of {{ student.name }}</span>
                  </button>
                  <template v-if="!observed"> · </template>
                  <button class="link" type="button" @click="excuse(student)">
                    {{ student.state === 'excused' ? 'Not excused' : 'Excuse'
                    }}<span class="visually-hidden"> {{ student.name }}</span>
                  </button>
                </td>
              </tr>
              <tr v-if="entering === student.id">
                <td colspan="5">
                  <WorkForm
                    :task-id="taskId"
                    :student="student"
                    @done="((entering = null), refresh())"
                    @cancel="entering = null"
                  />
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </div>
      <p v-if="!task.where.length" class="notice">
        Nobody is in the class yet.
        <RouterLink :to="{ name: 'students', params: { classId } }">Import a class list</RouterLink>
      </p>
    </div>
    <aside class="side" aria-label="The task">
      <TaskForm :class-id="classId" :task="task" />
      <p v-if="!task.handed_in" class="delete small">
        <button class="link" type="button" @click="remove">Delete this task</button>
        <span class="quiet"> Nobody has work or a mark on it.</span>
      </p>
    </aside>
  </div>
</template>

<style scoped>
.lead {
  margin-bottom: 12px;
}
.pick {
  width: 28px;
}
.pick input {
  vertical-align: middle;
}
@media (max-width: 560px) {
  .pick {
    display: none;
  }
}
.picked {
  margin-bottom: 10px;
}
.delete {
  margin-top: 18px;
}
</style>
