<script setup lang="ts">
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
import TaskForm from '@/features/work/TaskForm.vue'
import TimesForm from './TimesForm.vue'
import OwnTimesForm from './OwnTimesForm.vue'
import WorkForm from './WorkForm.vue'
import CollectForm from './CollectForm.vue'
import CopyForm from './CopyForm.vue'
import PartChips from './PartChips.vue'
import StateBar from './StateBar.vue'
import TaskFacts from './TaskFacts.vue'
import TaskFiles from './TaskFiles.vue'
import { ORDERS } from './groups'
import { useDeleting } from './useDeleting'
import { useExcusing } from './useExcusing'
import { useStudentList } from './useStudentList'
import { sheetPage } from '@/shared/sheets'
import SelectField from '@/design/controls/SelectField.vue'
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
const { byName } = useNameOrder()
const students = computed(() => byName(task.value?.where ?? []))
const { group, order, picked, shown, chosen, all, pick } = useStudentList(students)
/** Those of the chosen whose work has a time that can be corrected. */
const dated = computed(() => chosen.value.filter((one) => one.dating))
const correcting = ref(false)
const collecting = ref(false)
const copying = ref(false)
const changing = ref(false)
const { data: parts } = useQuery({
  key: () => keys.taskParts(props.taskId),
  query: () =>
    ask(api.GET('/api/tasks/{task_id}/work', { params: { path: { task_id: props.taskId } } })),
})
const partsOf = (studentId: number) =>
  parts.value?.filter((one) => one.student_id === studentId) ?? []

/** Some have a due time of their own. */
const timing = ref(false)
async function timed() {
  timing.value = false
  picked.value = []
  await refresh()
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

const { excuse: setExcused, excuseAll } = useExcusing(props.taskId, send, refresh)

function excuse(student: StudentAtTaskOut) {
  excusing.value = null
  return setExcused(student)
}

async function excuseChosen(excused: boolean) {
  if (await excuseAll(chosen.value, excused)) picked.value = []
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

/** Nobody has work or a mark on it, and nothing would be lost that cannot be set again. */
const untouched = computed(
  () => !task.value?.where.some((one) => one.dating) && !task.value?.files.length,
)
const more = computed(() => [
  ...(students.value.length
    ? [{ text: 'Message', act: () => (messaging.value = !messaging.value) }]
    : []),
  {
    text: 'Print or CSV of the marks',
    act: () => router.push(sheetPage('marks', props.classId, props.taskId)),
  },
  ...(parts.value?.length
    ? [
        {
          text: 'Download all work (ZIP)',
          act: () => download(`/api/tasks/${props.taskId}/archive`),
        },
      ]
    : []),
  { text: 'Copy', act: () => (copying.value = !copying.value) },
  ...(untouched.value ? [{ text: 'Delete this task', act: remove }] : []),
])

function download(address: string) {
  const link = document.createElement('a')
  link.href = address
  link.download = ''
  link.click()
}

/** Without fetching anew: there is no such task any more by then. */
const removing = useSending()
const deleteTask = useDeleting(props.classId, removing.send, refresh)
const remove = () => task.value && deleteTask(task.value)
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
        <Tag v-if="task.set_at === null" tone="clay">draft</Tag>
        <div class="actions">
          <Menu label="More to do with this task" text="More" :items="more" />
          <NButton v-if="!observed && task.where.length" @click="collecting = !collecting"
            >Add work</NButton
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
        {{ countWords(task) }}
        <template v-if="task.revision < task.newest_revision">
          · by revision {{ task.revision }}:
          <RouterLink :to="{ name: 'revisions', params: { classId, rubricId: task.rubric_id } }"
            >see revision {{ task.newest_revision }}</RouterLink
          >
        </template>
      </p>
      <Notice v-if="problem ?? removing.problem.value" clay role="alert">{{
        (problem ?? removing.problem.value)!.message
      }}</Notice>
      <HandBack
        v-if="handing && back.rows.value"
        :task="task"
        :rows="back.rows.value"
        @done="handing = false"
      />
      <MessageForm v-if="messaging" :task="task" @done="messaging = false" />
      <CopyForm v-if="copying" :class-id="classId" :task="task" @done="copying = false" />
      <CollectForm v-if="collecting" :task="task" @done="collecting = false" />
      <div v-if="task.where.length" class="row filter">
        <StateBar v-model="group" class="grow" :students="students" />
        <SelectField v-model="order" label="Sort" class="sort">
          <option v-for="one in ORDERS" :key="one.name" :value="one.name">{{ one.label }}</option>
        </SelectField>
      </div>
      <TimesForm
        v-if="correcting && dated.length"
        :key="picked.join(' ')"
        :task-id="taskId"
        :students="dated"
        :due-at="task.due_at"
        @done="corrected"
        @cancel="correcting = false"
      />
      <OwnTimesForm
        v-if="timing && chosen.length"
        :key="picked.join(' ')"
        :task="task"
        :students="chosen"
        @done="timed"
        @cancel="timing = false"
      />
      <div class="table-scroll">
        <NTable class="list" size="small">
          <thead>
            <tr>
              <th class="pick">
                <NCheckbox
                  v-if="shown.length"
                  v-model:checked="all"
                  aria-label="Choose all who are shown"
                />
              </th>
              <th>Student</th>
              <th>{{ observed ? 'Observed' : 'Done' }}</th>
              <th v-if="!observed" class="what">Work</th>
              <th>State</th>
              <th><span class="visually-hidden">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <template v-for="student in shown" :key="student.id">
              <tr>
                <td class="pick">
                  <NCheckbox
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
                  <Tag v-if="student.own_due_at" class="beside"
                    >until {{ dayAndTime(student.own_due_at, timeZone) }}</Tag
                  >
                  <Tag v-if="student.left_on">left {{ day(student.left_on, 'UTC') }}</Tag>
                </td>
                <td class="quiet">
                  {{ student.done_at ? dayAndTime(student.done_at, timeZone) : '–' }}
                  <span v-if="student.late_minutes" class="clay late"
                    >{{ duration(student.late_minutes) }} late</span
                  >
                  <Tag v-if="howDated(student)">{{ howDated(student) }}</Tag>
                  <span v-if="back.howFar(student.id)" class="small">{{
                    back.howFar(student.id)
                  }}</span>
                </td>
                <td v-if="!observed" class="what"><PartChips :parts="partsOf(student.id)" /></td>
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
                <td :colspan="observed ? 5 : 6">
                  <WishForm
                    :task-id="taskId"
                    :row="back.backOf(student.id)!"
                    @done="answering = null"
                  />
                </td>
              </tr>
              <tr v-if="excusing === student.id">
                <td :colspan="observed ? 5 : 6">
                  <ExcuseForm
                    :task-id="taskId"
                    :student="student"
                    @excuse="excuse(student)"
                    @cancel="excusing = null"
                  />
                </td>
              </tr>
              <tr v-if="entering === student.id">
                <td :colspan="observed ? 5 : 6">
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
      <p v-if="chosen.length && !correcting && !timing" class="row picked">
        <b>{{ several(chosen.length, 'student') }} chosen</b>
        <NButton v-if="dated.length" @click="correcting = true">Correct the time</NButton>
        <NButton v-if="!observed" @click="timing = true">Own due time</NButton>
        <NButton v-if="chosen.some((one) => one.state !== 'excused')" @click="excuseChosen(true)"
          >Excuse</NButton
        >
        <NButton v-if="chosen.some((one) => one.state === 'excused')" @click="excuseChosen(false)"
          >No longer excused</NButton
        >
        <NButton quaternary @click="picked = []">Choose none</NButton>
      </p>
      <Notice v-if="!task.where.length">
        Nobody is in the class yet.
        <RouterLink :to="{ name: 'students', params: { classId } }">Import a class list</RouterLink>
      </Notice>
    </div>
    <aside class="side" aria-label="The task">
      <TaskForm v-if="changing" :class-id="classId" :task="task" @done="changing = false" />
      <template v-else>
        <TaskFacts :class-id="classId" :task="task" @change="changing = true" />
        <TaskFiles :task="task" />
      </template>
      <SentMessages :task-id="taskId" />
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
.filter {
  align-items: flex-end;
  gap: 16px;
  margin-bottom: 12px;
}
.grow {
  flex: 1;
  min-width: 0;
}
.sort {
  width: 150px;
  margin: 0;
}
.beside {
  margin-left: 8px;
}
.late {
  white-space: nowrap;
}
@media (max-width: 560px) {
  .filter {
    flex-wrap: wrap;
  }
  .grow {
    flex-basis: 100%;
  }
  .what {
    display: none;
  }
}
.picked {
  flex-wrap: wrap;
  position: sticky;
  bottom: 0;
  padding: 10px 0;
  background: var(--paper);
  border-top: 1px solid var(--edge);
  z-index: 1;
}
</style>
