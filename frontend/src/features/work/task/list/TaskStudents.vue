<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { AttemptsRule, StudentAtTaskOut, TaskOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import Tag from '@/design/controls/Tag.vue'
import { day, dayAndTime, duration } from '@/design/format'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import WorkForm from '@/shared/work/WorkForm.vue'
import EntryChips from './EntryChips.vue'
import ExcuseForm from '@/features/work/task/forms/ExcuseForm.vue'
import PartChips from './PartChips.vue'
import StudentState from './StudentState.vue'
import WishForm from '@/features/work/task/forms/WishForm.vue'
import { useExcusing } from '@/features/work/task/useExcusing'
import type { useHandingBack } from '@/features/work/task/useHandingBack'
import { handsIn, hasEntries, isWatched } from '@/shared/kinds'

/** The students of a task: what came, when, where they stand, and what can be done for one. */
const props = defineProps<{
  classId: number
  task: TaskOut
  students: StudentAtTaskOut[]
  back: ReturnType<typeof useHandingBack>
  /** Why the evidence of a student is set aside, where it is. */
  asideOf: (studentId: number) => string | undefined
}>()
const emit = defineEmits<{ again: [studentId: number] }>()
const picked = defineModel<number[]>('picked', { required: true })
const all = defineModel<boolean>('all', { required: true })
const router = useRouter()
const { timeZone } = useSession()
const refresh = useRefresh().tasks
const { problem, send } = useSending(refresh)
const taskId = props.task.id
const path = { params: { path: { task_id: taskId } } }
const kind = computed(() => props.task.kind)
/** Whose row has something open: the wish that is answered, the work that is entered, an excuse. */
const opened = ref<{ what: 'wish' | 'work' | 'excuse'; id: number } | null>(null)
const isOpen = (what: 'wish' | 'work' | 'excuse', id: number) =>
  opened.value?.what === what && opened.value.id === id
const columns = computed(() => (isWatched(kind.value) ? 6 : 7))

const { data: parts } = useQuery({
  key: () => keys.taskParts(taskId),
  query: () => ask(api.GET('/api/tasks/{task_id}/work', path)),
})
const partsOf = (id: number) => parts.value?.filter((one) => one.student_id === id) ?? []
const { data: entries } = useQuery({
  key: () => keys.entries(taskId),
  query: () => ask(api.GET('/api/tasks/{task_id}/entries', path)),
  enabled: () => hasEntries(kind.value),
})
const entriesOf = (id: number) => entries.value?.filter((one) => one.student_id === id) ?? []
const { data: totals } = useQuery({
  key: () => keys.totals(taskId),
  query: () => ask(api.GET('/api/tasks/{task_id}/totals', path)),
})
/** What came of the newest finished attempt, in a word. */
function wordOf(student: StudentAtTaskOut) {
  const said = totals.value?.filter((one) => one.student_id === student.id && one.word).at(-1)
  return said ? { whole: said.word!, short: said.short_word! } : null
}
const totalOf = (student: StudentAtTaskOut) =>
  totals.value?.find((one) => one.student_id === student.id && one.attempt === student.attempt)

/** Which of several attempts the task's total is of. */
const RULE_WORDS = {
  latest: 'latest counts:',
  highest: 'highest counts:',
  mean: 'mean counts:',
  every: 'latest counts:',
} satisfies Record<AttemptsRule, string>

function howDated(student: StudentAtTaskOut): string {
  if (student.corrected) return 'corrected'
  return student.dating === 'on-paper' ? 'on paper' : ''
}

const { excuse: setExcused } = useExcusing(taskId, send, refresh)

function excuse(student: StudentAtTaskOut) {
  opened.value = null
  return setExcused(student)
}

function pick(id: number, on: boolean) {
  const others = picked.value.filter((one) => one !== id)
  picked.value = on ? [...others, id] : others
}

async function takeBack(student: StudentAtTaskOut) {
  const done = await send(() => props.back.takeBack(student.id))
  if (done) say(`Taken back from ${student.name}: they see no mark of it now`)
}

async function withdraw(student: StudentAtTaskOut) {
  const params = { path: { task_id: taskId, student_id: student.id } }
  const done = await send(() =>
    ask(api.DELETE('/api/tasks/{task_id}/students/{student_id}/opened-attempt', { params })),
  )
  if (done) say(`The attempt of ${student.name} is withdrawn: nothing changed`)
}

const atDesk = (student: StudentAtTaskOut, entry?: number) => ({
  name: 'desk',
  params: { classId: props.classId, taskId, studentId: student.id, entry },
})

function rowItems(student: StudentAtTaskOut) {
  const seen = props.back.backOf(student.id)
  const excused = student.state === 'excused'
  const open = (what: 'wish' | 'work' | 'excuse') => (opened.value = { what, id: student.id })
  const next = entriesOf(student.id).length + 1
  const enter = {
    'handed-in': [
      { text: student.has_work ? 'Change the work' : 'Enter work', act: () => open('work') },
    ],
    observed: [],
    'other-evidence': [{ text: 'New entry', act: () => router.push(atDesk(student, next)) }],
  }[kind.value]
  return [
    ...(props.task.set_at === null ? [] : enter),
    ...(seen?.seen_at || seen?.coming_at
      ? [{ text: 'Take it back', act: () => takeBack(student) }]
      : []),
    ...(student.finished && !seen?.granted && !hasEntries(kind.value)
      ? [{ text: 'Another attempt …', act: () => emit('again', student.id) }]
      : []),
    ...(seen?.granted ? [{ text: 'Withdraw the attempt', act: () => withdraw(student) }] : []),
    {
      text: `${excused ? 'No longer excused' : 'Excuse'}${student.finished ? ' …' : ''}`,
      act: () => (student.finished ? open('excuse') : excuse(student)),
    },
  ]
}
</script>

<template>
  <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
  <div class="table-scroll">
    <NTable class="list" size="small">
      <thead>
        <tr>
          <th class="pick">
            <NCheckbox
              v-if="students.length"
              v-model:checked="all"
              aria-label="Choose all who are shown"
            />
          </th>
          <th>Student</th>
          <th v-if="!hasEntries(kind)">{{ isWatched(kind) ? 'Observed' : 'Done' }}</th>
          <th v-if="handsIn(kind)" class="what">Work</th>
          <th v-if="hasEntries(kind)">Entries</th>
          <th>State</th>
          <th class="num">Total</th>
          <th><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="student in students" :key="student.id">
          <tr>
            <td class="pick">
              <NCheckbox
                :checked="picked.includes(student.id)"
                @update:checked="pick(student.id, $event)"
                :aria-label="`Choose ${student.name}`"
              />
            </td>
            <td class="who">
              <RouterLink :to="atDesk(student)">{{ student.name }}</RouterLink>
              <Tag v-if="student.own_due_at" class="beside"
                >until {{ dayAndTime(student.own_due_at, timeZone) }}</Tag
              >
              <template v-if="asideOf(student.id)">
                <Tag class="beside" tone="clay">set aside</Tag>
                <span class="small quiet why" :title="asideOf(student.id)">{{
                  asideOf(student.id)
                }}</span>
              </template>
              <Tag v-if="student.left_on">left {{ day(student.left_on, 'UTC') }}</Tag>
            </td>
            <td v-if="hasEntries(kind)">
              <EntryChips
                :entries="entriesOf(student.id)"
                :to="(entry) => atDesk(student, entry)"
              />
            </td>
            <td v-else class="quiet">
              <span class="when">{{
                student.done_at ? dayAndTime(student.done_at, timeZone) : '–'
              }}</span>
              <span v-if="student.late_minutes" class="clay late"
                >{{ duration(student.late_minutes) }} late</span
              >
              <Tag v-if="howDated(student)">{{ howDated(student) }}</Tag>
              <span v-if="back.howFar(student.id)" class="small far">{{
                back.howFar(student.id)
              }}</span>
            </td>
            <td v-if="handsIn(kind)" class="what">
              <PartChips :parts="partsOf(student.id)" />
            </td>
            <td>
              <StudentState
                :student="student"
                :back="back.backOf(student.id)"
                @answer="opened = { what: 'wish', id: student.id }"
              />
            </td>
            <td class="num total" :class="{ plum: totalOf(student)?.adjusted }">
              <template v-if="totalOf(student)?.value"
                >{{ totalOf(student)!.value
                }}<span v-if="totalOf(student)!.adjusted" class="visually-hidden">
                  (adjusted by hand)</span
                ><span class="small quiet"> / {{ totalOf(student)!.out_of }}</span></template
              >
              <span v-if="totalOf(student)?.over_attempts" class="small word"
                >{{ RULE_WORDS[task.attempts_rule] }} {{ totalOf(student)!.over_attempts }}</span
              >
              <span v-if="wordOf(student)" class="small word" :title="wordOf(student)!.whole">{{
                wordOf(student)!.short
              }}</span>
            </td>
            <td class="num">
              <Menu :label="`More on ${student.name}`" small :items="rowItems(student)" />
            </td>
          </tr>
          <tr v-if="isOpen('wish', student.id) && back.backOf(student.id)">
            <td :colspan="columns">
              <WishForm :task-id="taskId" :row="back.backOf(student.id)!" @done="opened = null" />
            </td>
          </tr>
          <tr v-if="isOpen('excuse', student.id)">
            <td :colspan="columns">
              <ExcuseForm
                :task-id="taskId"
                :student="student"
                @excuse="excuse(student)"
                @cancel="opened = null"
              />
            </td>
          </tr>
          <tr v-if="isOpen('work', student.id)">
            <td :colspan="columns">
              <WorkForm
                :task-id="taskId"
                :student="student"
                :further="Boolean(back.backOf(student.id)?.granted)"
                @done="((opened = null), refresh())"
                @cancel="opened = null"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </NTable>
  </div>
</template>

<style scoped>
.who {
  min-width: 120px;
  overflow-wrap: anywhere;
}
.word {
  display: block;
  max-width: 150px;
  margin-left: auto;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-2);
}
.why {
  display: block;
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pick {
  width: 28px;
}
.beside {
  margin-left: 8px;
}
/* Under the time, where there is one. */
.far {
  display: block;
}
.late,
.when,
.total {
  white-space: nowrap;
}
.late {
  display: block;
}
.plum {
  color: var(--plum);
}
@media (max-width: 560px) {
  .pick,
  .what {
    display: none;
  }
}
</style>
