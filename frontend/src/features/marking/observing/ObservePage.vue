<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ChevronLeft } from '@lucide/vue'
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { CriterionOut, StudentAtHandOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import Confirm from '@/design/telling/Confirm.vue'
import EmptyState from '@/design/telling/EmptyState.vue'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import { longDay, several } from '@/design/format'
import { useSending } from '@/shared/forms/useSending'
import { useNoting } from '@/shared/notes/useNoting'
import { useNameOrder } from '@/shared/order'
import { usePageTitle } from '@/shared/pageTitle'
import { useRefresh } from '@/shared/queries'
import { useSaves } from '@/shared/saving/useSaves'
import FinishSeen from './FinishSeen.vue'
import ObserveFoot from './ObserveFoot.vue'
import ObserveLine from './ObserveLine.vue'
import ObserveRow from './ObserveRow.vue'
import ObserveStudent from './ObserveStudent.vue'
import SeatOrder from './SeatOrder.vue'
import SetAll from './SetAll.vue'
import { usePageInTheRoom } from './usePageInTheRoom'
import { bySeats, isThere, type Choice } from './seen'
import { keepShell, newVersion, opensWithout, useNewVersion } from './shell'

const NoteDialog = defineAsyncComponent(() => import('@/shared/notes/NoteDialog.vue'))

/** Observing a class for one task, on a phone: with a server and without one. */
const props = defineProps<{ classId: number; taskId: number }>()
const route = useRoute()
const router = useRouter()
const saves = useSaves()
const refresh = useRefresh()

const { it, timeZone, problemToOpen, openAgain } = usePageInTheRoom(props.taskId)
const found = it.found
onMounted(keepShell)
usePageTitle(() => found.value && `Observe: ${found.value.title}`)

const { byName } = useNameOrder()
const ORDER = 'jade-ladder.observing.order'
const inSeats = ref(localStorage.getItem(ORDER) === 'seats')
const byList = ref(localStorage.getItem('jade-ladder.observing.view') === 'list')
function keepView() {
  try {
    localStorage.setItem(ORDER, inSeats.value ? 'seats' : 'names')
    localStorage.setItem('jade-ladder.observing.view', byList.value ? 'list' : 'grid')
  } catch {
    // It is asked again next time.
  }
}
watch([inSeats, byList], keepView)

const students = computed(() => {
  const there = found.value?.students ?? []
  const named = byName(there.map((one) => ({ ...one, sort_name: one.student.sort_name })))
  return inSeats.value ? bySeats(named, found.value?.seats ?? []) : named
})
/** In what order they are gone through: it stays while a student is looked at. */
const order = computed(() => students.value.filter(isThere).map((one) => one.student.id))

const current = ref(0)
const criterion = computed<CriterionOut | undefined>(
  () => found.value?.criteria[current.value] ?? found.value?.criteria[0],
)
const column = computed(() => {
  const tie = criterion.value?.alignments[0]
  return found.value?.outcomes.findIndex((one) => one.id === tie?.outcome_id) ?? -1
})
const scale = computed(() => {
  const outcome = found.value?.outcomes[column.value]
  return found.value?.scales.find((one) => one.id === outcome?.scale_id)
})
/** The level that is read: the one held down, or chosen last. */
const readId = ref<number | null>(null)
const read = computed(() => {
  const levels = criterion.value?.levels ?? []
  const at = levels.findIndex((level) => level.id === readId.value)
  const level = levels[at]
  if (!level) return null
  const head = criterion.value?.kind === 'yes-no' ? level.name : `${at + 1} · ${level.name}`
  return level.descriptor ? `${head}: ${level.descriptor}` : head
})

const studentId = computed(() => Number(route.query.student) || null)
function openStudent(id: number) {
  setting.value = false
  void router.push({ query: { ...route.query, student: id } })
}
const goTo = (id: number) => router.replace({ query: { ...route.query, student: id } })
function closeStudent() {
  void router.push({ query: { ...route.query, student: undefined } })
}

/** What of a student waits for a decision, in a word. */
function conflictOf(id: number): string {
  const there = it.conflicts.value.get(id)
  return !there ? '' : there.some((one) => one.stale) ? 'two answers' : 'not saved'
}
function choose(id: number, choice: Choice) {
  if (!criterion.value) return
  readId.value = choice.level_id
  it.choose([id], criterion.value.id, choice)
}
const setting = ref(false)
function chooseAll(choice: Choice) {
  const there = it.unmarkedOn(criterion.value!.id)
  if (!it.choose(there, criterion.value!.id, choice)) return
  readId.value = choice.level_id
  setting.value = false
  say(`${several(there.length, 'student')} set. Undo takes it back.`)
}

const arranging = ref(false)
const { problem, send } = useSending()
async function arrange(ids: number[]) {
  const path = { params: { path: { class_id: props.classId } } }
  const done = await send(() =>
    ask(api.PUT('/api/classes/{class_id}/seats', { ...path, body: { student_ids: ids } })),
  )
  if (!done) return
  it.arrange(ids)
  arranging.value = false
  inSeats.value = true
}

const seenOn = (one: StudentAtHandOut) => (one.earlier ? `seen ${longDay(one.earlier.day)}` : '')
/** Of whom it is asked whether they are to be observed again, and when they were. */
const askedOf = computed(() => {
  const one = found.value?.students.find((other) => other.student.id === it.asking.value?.studentId)
  return { name: one?.student.name, on: one?.earlier ? `on ${longDay(one.earlier.day)}` : 'before' }
})

const noting = useNoting()
const finishing = ref(false)
const absent = computed(() => [...it.shown.value.values()].filter((one) => one.absent).length)
const canFinish = computed(() => !it.waiting.value && saves.state !== 'gone')
async function finish() {
  const path = { params: { path: { task_id: props.taskId } } }
  let count = 0
  const done = await send(async () => {
    const answer = await ask(api.POST('/api/tasks/{task_id}/observation/finish', path))
    count = answer.finished
  })
  if (!done) return
  finishing.value = false
  say(`${several(count, 'mark')} finished: ${count === 1 ? 'it counts' : 'they count'} now`)
  await Promise.all([it.load(), refresh.marks()])
}

const more = computed(() => [
  {
    text: inSeats.value ? 'In the order of names' : 'In the order of seats',
    act: () => {
      if (!inSeats.value && !found.value?.seats.length) arranging.value = true
      else inSeats.value = !inSeats.value
    },
  },
  {
    text: 'Write a note',
    act: () => noting.open(props.classId, studentId.value ? [studentId.value] : []),
  },
  { text: 'Arrange the seats', act: () => (arranging.value = true) },
  {
    text: 'Set everyone to one level',
    act: () => {
      closeStudent()
      byList.value = false
      setting.value = true
    },
  },
])
</script>

<template>
  <div class="observing">
    <header class="top">
      <div class="line">
        <RouterLink class="back" :to="{ name: 'task', params: { classId, taskId } }">
          <ChevronLeft :size="18" aria-hidden="true" /><span class="visually-hidden"
            >Back to the task</span
          >
        </RouterLink>
        <div class="title">
          <p class="small quiet">Observed · {{ found?.class_name }}</p>
          <h1>{{ found?.title ?? 'Observe' }}</h1>
        </div>
        <Menu v-if="found" label="More to do" text="More" :items="more" />
      </div>
      <div
        v-if="found && !studentId && !arranging"
        class="criteria"
        role="group"
        aria-label="What is shown"
      >
        <button type="button" :aria-pressed="byList" @click="((byList = true), (setting = false))">
          List
        </button>
        <button
          v-for="(one, at) in found.criteria"
          :key="one.id"
          type="button"
          :aria-pressed="!byList && one.id === criterion?.id"
          @click="((byList = false), (current = at), (readId = null))"
        >
          {{ one.title }}
        </button>
      </div>
    </header>
    <Notice v-if="newVersion" line>
      A new version of Jade Ladder is ready.
      <NButton class="link" text @click="useNewVersion">Use it now</NButton>
    </Notice>
    <Notice v-if="problem" clay line role="alert">{{ problem.message }}</Notice>
    <main id="content" tabindex="-1">
      <QueryState
        v-if="!found"
        class="pad"
        :error="problemToOpen"
        :pending="!problemToOpen"
        @again="openAgain()"
      />
      <EmptyState v-else-if="!found.students.length" title="Nobody is in the class yet" class="pad">
        <RouterLink :to="{ name: 'students', params: { classId } }">Import a class list</RouterLink>
      </EmptyState>
      <p v-else-if="!found.is_set" class="pad">
        This task is a draft: set it on
        <RouterLink :to="{ name: 'task', params: { classId, taskId } }">its page</RouterLink> before
        anybody is observed.
      </p>
      <SeatOrder
        v-else-if="arranging"
        :students="bySeats(students, found.seats).map((one) => one.student)"
        @done="arrange"
        @close="arranging = false"
      />
      <ObserveStudent
        v-else-if="studentId && order.includes(studentId)"
        :it="it"
        :task-id="taskId"
        :student-id="studentId"
        :order="order"
        @go="goTo"
        @close="closeStudent"
      />
      <template v-else>
        <p v-if="!byList" class="read small" aria-live="polite">
          {{ read ?? 'Hold a number to read what it stands for.' }}
        </p>
        <SetAll
          v-if="setting && criterion"
          :criterion="criterion"
          :scale="scale"
          :count="it.unmarkedOn(criterion.id).length"
          @choose="chooseAll"
          @close="setting = false"
        />
        <ul class="rows">
          <template v-for="one in students" :key="one.student.id">
            <ObserveLine
              v-if="byList && it.shown.value.get(one.student.id)"
              :name="one.student.name"
              :shown="it.shown.value.get(one.student.id)!"
              :criteria="found.criteria"
              :excused="!isThere(one)"
              :earlier="it.isQuiet(one.student.id)"
              :conflict="conflictOf(one.student.id)"
              @open="openStudent(one.student.id)"
              @absent="it.setAbsent(one.student.id, $event)"
            />
            <ObserveRow
              v-else-if="criterion && it.shown.value.get(one.student.id)"
              :name="one.student.name"
              :glance="one.glances[column]"
              :scale="scale"
              :criterion="criterion"
              :level-id="it.shownOn(one.student.id, criterion.id).level_id"
              :half-way="it.shownOn(one.student.id, criterion.id).half_way"
              :not-assessed="it.shownOn(one.student.id, criterion.id).not_assessed"
              :earlier="it.isQuiet(one.student.id) ? seenOn(one) : ''"
              :never="it.neverSeen(one.student.id)"
              :carried="it.shown.value.get(one.student.id)!.carried.has(criterion.id)"
              :absent="it.shown.value.get(one.student.id)!.absent"
              :excused="!isThere(one)"
              :said="it.shown.value.get(one.student.id)!.remarks.has(criterion.id)"
              :conflict="conflictOf(one.student.id)"
              @choose="choose(one.student.id, $event)"
              @read="readId = $event"
              @open="openStudent(one.student.id)"
            />
          </template>
        </ul>
        <p class="small quiet kept">
          {{
            opensWithout
              ? 'Kept in this browser: this page opens without a connection, until you sign out.'
              : 'Without a connection this page goes on as long as it is open.'
          }}
        </p>
      </template>
      <FinishSeen
        v-if="finishing && found"
        :found="found"
        :left="it.left.value"
        :absent="absent"
        :ready="canFinish"
        @finish="finish"
        @close="finishing = false"
      />
    </main>
    <Confirm
      :show="it.asking.value !== null"
      title="Observe again today?"
      action="Observe again"
      keep="Leave it as it was seen"
      @confirm="it.seeAgain()"
      @cancel="it.asking.value = null"
    >
      {{ askedOf.name }} was observed {{ askedOf.on }}. A second observation begins with this tap,
      for everybody whom you tap today; what was seen before stays as it is.
      <RouterLink
        v-if="it.asking.value"
        :to="{ name: 'desk', params: { classId, taskId, studentId: it.asking.value.studentId } }"
        >Change what was seen</RouterLink
      >
    </Confirm>
    <ObserveFoot
      v-if="found?.students.length"
      :it="it"
      :time-zone="timeZone"
      @finish="finishing = !finishing"
    />
    <NoteDialog v-if="noting.show" />
  </div>
</template>

<style scoped>
.observing {
  max-width: 760px;
  margin: 0 auto;
  min-height: 100dvh;
  display: flex;
  flex-direction: column;
}
.top {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--paper);
  border-bottom: 1px solid var(--line);
}
.line {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 8px 12px 8px 4px;
}
.back {
  flex: none;
  width: 44px;
  height: 44px;
  display: grid;
  place-items: center;
  color: var(--ink);
}
.title {
  flex: 1;
  min-width: 0;
}
h1 {
  font-size: 20px;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.criteria {
  display: flex;
  gap: 8px;
  overflow-x: auto;
  padding: 0 16px 10px;
}
.criteria button {
  flex: none;
  max-width: 158px;
  min-height: 48px;
  padding: 0 12px;
  line-height: 1.2;
  text-align: left;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  color: var(--ink);
  font: inherit;
  font-weight: 600;
  font-size: 13px;
  cursor: pointer;
}
.criteria button[aria-pressed='true'] {
  background: var(--ink);
  border-color: var(--ink);
  color: var(--on-ink);
}
main {
  flex: 1;
}
main:focus {
  outline: 0;
}
.pad {
  padding: 24px 16px;
}
.read {
  padding: 9px 16px;
  min-height: 56px;
  background: var(--sunk);
  color: var(--ink-2);
  border-bottom: 1px solid var(--line);
}
.rows {
  list-style: none;
  margin: 0;
  padding: 0;
}
.kept {
  padding: 14px 16px 22px;
}
</style>
