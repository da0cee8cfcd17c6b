<script setup lang="ts">
import HandOut from '@/shared/HandOut.vue'
import Notice from '@/design/telling/Notice.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { api, ask } from '@/api/client'
import { useNameOrder } from '@/shared/order'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import type { StudentAtTaskOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import { say } from '@/design/telling/messages'
import QueryState from '@/design/telling/QueryState.vue'
import { day, dayAndTime, duration, several } from '@/design/format'
import MessageForm from './MessageForm.vue'
import SentMessages from './SentMessages.vue'
import HandBack from './HandBack.vue'
import StudentState from './StudentState.vue'
import WishForm from './WishForm.vue'
import { useHandingBack } from './useHandingBack'
import ExcuseForm from './ExcuseForm.vue'
import TaskForm from './TaskForm.vue'
import TimesForm from './TimesForm.vue'
import WorkForm from './WorkForm.vue'
import { countWords } from '@/shared/states'
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
const back = useHandingBack(props.taskId)
const handing = ref(false)
const messaging = ref(false)
/** Whose wish for another attempt is answered. */
const answering = ref<number | null>(null)
const entering = ref<number | null>(null)
/** Who is to be excused, once it is seen what that does. */
const excusing = ref<number | null>(null)
const refresh = useRefresh().tasks
const { problem, send } = useSending(refresh)
const observed = computed(() => task.value?.kind === 'observed')
/** Whose time is to be corrected. */
const picked = ref<number[]>([])
const correcting = ref(false)
const { byName } = useNameOrder()
const students = computed(() => byName(task.value?.where ?? []))
const dated = computed(() => students.value.filter((one) => one.dating))
const chosen = computed(() => dated.value.filter((one) => picked.value.includes(one.id)))
const all = computed({
  get: () => dated.value.length > 0 && chosen.value.length === dated.value.length,
  set: (on) => (picked.value = on ? dated.value.map((one) => one.id) : []),
})

function pick(studentId: number, on: boolean) {
  picked.value = picked.value.filter((one) => one !== studentId)
  if (on) picked.value.push(studentId)
}

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

const setExcused = (studentId: number, excused: boolean) =>
  ask(
    api.PUT('/api/tasks/{task_id}/students/{student_id}/excused', {
      params: { path: { task_id: props.taskId, student_id: studentId } },
      body: { excused },
    }),
  )

/** Excuse a student, or no longer; what that does to what is marked is said, and can be undone. */
async function excuse(student: StudentAtTaskOut) {
  const excused = student.state !== 'excused'
  excusing.value = null
  if (!(await send(() => setExcused(student.id, excused)))) return
  const marked = student.finished ? '; the mark no longer counts as evidence' : ''
  say(excused ? `${student.name} is excused${marked}` : `${student.name} is no longer excused`, {
    work: async () => {
      await setExcused(student.id, !excused)
      await refresh()
    },
    undone: excused ? `${student.name} is not excused` : `${student.name} is excused again`,
  })
}

async function takeBack(student: StudentAtTaskOut) {
  const done = await send(() => back.takeBack(student.id))
  if (done) say(`Taken back from ${student.name}: they see no mark of it now`)
}

function rowItems(student: StudentAtTaskOut) {
  const seen = back.backOf(student.id)
  const enter = {
    text: student.has_work ? 'Replace the work' : 'Enter work',
    act: () => (entering.value = student.id),
  }
  const excused = student.state === 'excused'
  return [
    ...(observed.value ? [] : [enter]),
    ...(seen?.seen_at || seen?.coming_at
      ? [{ text: 'Take it back', act: () => takeBack(student) }]
      : []),
    ...(seen?.seen_at && !seen.granted
      ? [{ text: 'Another attempt …', act: () => (answering.value = student.id) }]
      : []),
    {
      text: excused ? 'No longer excused' : student.finished ? 'Excuse …' : 'Excuse',
      act: () => (student.finished && !excused ? (excusing.value = student.id) : excuse(student)),
    },
  ]
}

const removing = useSending()
async function remove() {
  const gone = task.value
  const done = await removing.send(() =>
    ask(api.DELETE('/api/tasks/{task_id}', { params: { path: { task_id: props.taskId } } })),
  )
  problem.value = removing.problem.value
  if (!done) return
  await router.push({ name: 'tasks', params: { classId: props.classId } })
  await refresh()
  if (!gone) return
  say(`${gone.title} is deleted`, {
    work: async () => {
      const { title, instructions, kind, rubric_id, due_at, own_points, practice } = gone
      const { closes_at, rubric_shown, late_per_day, late_most } = gone
      const shown = { closes_at, rubric_shown, late_per_day, late_most, points: own_points }
      const body = { title, instructions, kind, rubric_id, due_at, practice, ...shown }
      const path = { class_id: props.classId }
      await ask(api.POST('/api/classes/{class_id}/tasks', { params: { path }, body }))
      await refresh()
    },
    undone: `${gone.title} is set again`,
  })
}
usePageTitle(() => task.value?.title)
</script>

<template>
  <QueryState v-if="!task" class="page" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else class="split">
    <div class="page">
      <div class="page-head">
        <h1>{{ task.title }}</h1>
        <Tag v-if="observed">observed</Tag>
        <Tag v-if="task.practice">practice</Tag>
        <div class="actions">
          <HandOut what="marks" :class-id="classId" :thing="taskId" />
          <NButton v-if="task.where.length" quaternary @click="messaging = !messaging"
            >Message</NButton
          >
          <NButton v-if="back.rows.value?.length" @click="handing = !handing">
            Hand back{{ back.ready.value ? ` ${back.ready.value}` : '' }}
          </NButton>
          <LinkButton main :to="{ name: 'desk', params: { classId, taskId } }">
            {{ task.to_mark ? `Mark ${task.to_mark}` : 'Open the desk' }}
          </LinkButton>
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
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
      <HandBack
        v-if="handing && back.rows.value"
        :task="task"
        :rows="back.rows.value"
        @done="handing = false"
      />
      <MessageForm v-if="messaging" :task="task" @done="messaging = false" />
      <TimesForm
        v-if="correcting && chosen.length"
        :key="picked.join(' ')"
        :task-id="taskId"
        :students="chosen"
        :due-at="task.due_at"
        @done="corrected"
        @cancel="correcting = false"
      />
      <div class="table-scroll">
        <NTable class="list" size="small">
          <thead>
            <tr>
              <th class="pick">
                <NCheckbox
                  v-if="dated.length"
                  v-model:checked="all"
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
            <template v-for="student in students" :key="student.id">
              <tr>
                <td class="pick">
                  <NCheckbox
                    v-if="student.dating"
                    :checked="picked.includes(student.id)"
                    @update:checked="pick(student.id, $event)"
                    :aria-label="`Choose ${student.name}`"
                  />
                </td>
                <td>
                  <RouterLink
                    :to="{ name: 'desk', params: { classId, taskId, studentId: student.id } }"
                    >{{ student.name }}</RouterLink
                  >
                  <Tag v-if="student.left_on">left {{ day(student.left_on, 'UTC') }}</Tag>
                </td>
                <td class="quiet">
                  {{ student.done_at ? dayAndTime(student.done_at, timeZone) : '–' }}
                  <span v-if="student.late_minutes" class="clay"
                    >{{ duration(student.late_minutes) }} late</span
                  >
                  <Tag v-if="howDated(student)">{{ howDated(student) }}</Tag>
                  <span v-if="back.howFar(student.id)" class="small">{{
                    back.howFar(student.id)
                  }}</span>
                </td>
                <td>
                  <StudentState
                    :student="student"
                    :back="back.backOf(student.id)"
                    @answer="answering = student.id"
                  />
                </td>
                <td class="num">
                  <Menu :label="`More on ${student.name}`" small :items="rowItems(student)" />
                </td>
              </tr>
              <tr v-if="answering === student.id && back.backOf(student.id)">
                <td colspan="5">
                  <WishForm
                    :task-id="taskId"
                    :row="back.backOf(student.id)!"
                    @done="answering = null"
                  />
                </td>
              </tr>
              <tr v-if="excusing === student.id">
                <td colspan="5">
                  <ExcuseForm
                    :task-id="taskId"
                    :student="student"
                    @excuse="excuse(student)"
                    @cancel="excusing = null"
                  />
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
        </NTable>
      </div>
      <p v-if="chosen.length && !correcting" class="row picked">
        <b>{{ several(chosen.length, 'student') }} chosen</b>
        <NButton @click="correcting = true">Correct the time</NButton>
        <NButton quaternary @click="picked = []">Choose none</NButton>
      </p>
      <Notice v-if="!task.where.length">
        Nobody is in the class yet.
        <RouterLink :to="{ name: 'students', params: { classId } }">Import a class list</RouterLink>
      </Notice>
    </div>
    <aside class="side" aria-label="The task">
      <TaskForm :class-id="classId" :task="task" />
      <SentMessages :task-id="taskId" />
      <p v-if="!task.where.some((one) => one.dating)" class="delete small">
        <NButton class="link" text @click="remove">Delete this task</NButton>
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
@media (max-width: 560px) {
  .pick {
    display: none;
  }
}
.picked {
  position: sticky;
  bottom: 0;
  padding: 10px 0;
  background: var(--paper);
  border-top: 1px solid var(--edge);
  z-index: 1;
}
.delete {
  margin-top: 18px;
}
</style>
