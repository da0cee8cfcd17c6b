<script setup lang="ts">
import { useLocalStorage, useWindowSize, whenever } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { isLost } from '@/design/focus'
import { useDeskKeys } from './useDeskKeys'
import { useNextTask } from './useNextTask'
import SpreadSign from '@/features/marking/evenly/SpreadSign.vue'
import {
  nextAcross,
  useCoverNames,
  useSpread,
  useWay,
  WAYS,
} from '@/features/marking/evenly/useEvenly'
import Divider from '@/design/controls/Divider.vue'
import QueryState from '@/design/telling/QueryState.vue'
import CountingNotice from './CountingNotice.vue'
import CriterionMark from './CriterionMark.vue'
import DeskFoot from './DeskFoot.vue'
import DeskSides from './DeskSides.vue'
import RemarksAt from '@/features/marking/remarking/RemarksAt.vue'
import { useRemarking } from '@/features/marking/remarking/useRemarking'
import ExemplarBeside from '@/features/marking/evenly/ExemplarBeside.vue'
import ExemplarTools from '@/features/marking/evenly/ExemplarTools.vue'
import { useExemplars } from '@/features/marking/evenly/useExemplars'
import WayBar from '@/features/marking/evenly/WayBar.vue'
import DeskStudents from './DeskStudents.vue'
import DeskWork from './DeskWork.vue'
import SeenSign from './SeenSign.vue'
import RemarkField from './RemarkField.vue'
import PassageTools from '@/features/marking/passages/PassageTools.vue'
import MarkHistory from '@/features/marking/history/MarkHistory.vue'
import { nameOfChoice, useChoosing } from './useChoosing'
import type { Save } from '@/shared/saving/saves'
import type { CriterionOut } from '@/api/schema'
import { useDesk } from './useDesk'
import { useEntries } from './useEntries'
import { useTurn } from './useTurn'
import { useNameOrder } from '@/shared/order'
import { usePageTitle } from '@/shared/pageTitle'
import { hasEntries, isWatched } from '@/shared/kinds'

const props = defineProps<{
  classId: number
  taskId: number
  studentId?: number
  /** Of other evidence: which entry of the student is open. */
  entry?: number
}>()
const router = useRouter()
const it = useDesk(props.classId, props.taskId, useNameOrder().byName)
const { desk, loadError, markErrors, where, toMark, refused, scaleOf, outcomeOf } = it
if (props.studentId && props.entry) it.openEntry(props.studentId, props.entry)
const way = useWay()
const whole = computed(() => way.value === 'whole')
/** What was seen in the room is of whom one saw. */
const canHide = computed(() => !isWatched(desk.value?.task.kind))
const { hidden, ended, toggle, coverName, inOrder } = useCoverNames(
  props.taskId,
  () => canHide.value,
  () => [...where.values()],
)
const turn = useTurn(it, () => props.studentId, open, {
  inOrder,
  stays: () => way.value === 'across',
})
const { at, ids, currentId, mark, work, criteria, current, left, whenHere, step, go } = turn
const { choiceOf, chooseLevel, choosePlace, toggleHalf, notAssessed, clear } = useChoosing(it, turn)
const spreadShown = useLocalStorage('jade-ladder.desk.spread', false)
const spreads = useSpread(props.taskId, () => spreadShown.value || way.value === 'across')
const exemplars = useExemplars(props.taskId)
const { elsewhere, goOn } = useNextTask(props.taskId)
const RUBRIC_WIDTH = 432
const rubricWidth = useLocalStorage('jade-ladder.desk.rubric', RUBRIC_WIDTH)
/** The work keeps as much as is needed to read it. */
const { width: windowWidth } = useWindowSize()
const mostWide = computed(() => Math.max(320, Math.min(800, windowWidth.value - 520)))
const side = ref<'work' | 'rubric'>('work')
const said = ref('')
const middle = ref<InstanceType<typeof DeskWork> | null>(null)
watch([currentId, at, () => left.value.length], () => (said.value = ''))
// The first press of Tab goes to the levels, and not through the head of the page; fingers need none.
const byKeys = !window.matchMedia('(pointer: coarse)').matches
whenever(mark, () => byKeys && isLost() && focusOn('.head'), { once: true, flush: 'post' })

const { entriesOf, openEntry, newEntry, look } = useEntries(props, it, currentId)

/** What is chosen by keys is seen. */
const toRubric = () => void (side.value = 'rubric')
const toWork = () => void (side.value = 'work')

/** Focus on something of the open criterion. */
function focusOn(what: string) {
  document.querySelector<HTMLElement>(`[data-current=true] ${what}`)?.focus({ preventScroll: true })
}

/** Out of a remark to the levels: digits choose again. */
const toLevels = () => focusOn('[role=radio][tabindex="0"]')

const remarking = useRemarking(it, turn, { taskId: props.taskId, toRubric, toLevels })
const { passages, bank, remarkOf } = remarking
// Where a remark is is shown in the work, which on a narrow screen may be out of sight.
watch(passages.openPart, toWork)

const nameOf = (id: number) => (hidden.value ? coverName(id) : (where.get(id)?.name ?? ''))
function open(id: number) {
  const { classId, taskId } = props
  void router.replace({ name: 'desk', params: { classId, taskId, studentId: id } })
}

function finishAndNext() {
  if (!mark.value) return
  // A remark that is being written is saved first.
  if (document.activeElement?.matches('[data-remark]')) toLevels()
  if (way.value === 'across') return stepAcross()
  if (left.value.length) {
    turn.toFirstLeft()
    const titles = left.value.map((one) => one.title).join(', ')
    return void nextTick(() => (said.value = `Still to mark: ${titles}`))
  }
  const next = turn.whoIsNext()
  it.finish(currentId.value)
  if (next) open(next)
  else done()
}

/** One criterion for all: on to the next who lacks it, and then to the next criterion. */
function stepAcross() {
  const criterion = current.value
  if (criterion && lacks(currentId.value, criterion.id) && !criterion.bonus)
    return void (said.value = `Still to mark: ${criterion.title}`)
  if (!left.value.length) it.finish(currentId.value)
  const waits = (id: number) => where.get(id)?.waits ?? false
  const next = nextAcross(criteria.value, at.value, ids.value, currentId.value, waits, lacks)
  if (!next) return done()
  const before = criterion?.title
  const other = next.at !== at.value
  at.value = next.at
  open(next.student)
  if (other)
    void nextTick(
      () => (said.value = `Everybody has “${before}”. On with “${current.value?.title}”.`),
    )
}

/** Whether something is still to be chosen for a student, by what is here or was told. */
function lacks(id: number, criterionId: number): boolean {
  if (it.marks.has(id)) return it.left(id).some((one) => one.id === criterionId)
  return !spreads.value.get(criterionId)?.students.includes(id)
}

function done() {
  said.value = 'That was the last one that waited.'
  void goOn()
}

const lookAgain = (id: number) => () => it.fetchMark(id, true)
const historyShown = ref(false)
function closeHistory() {
  historyShown.value = false
  void nextTick(toLevels)
}

function nextWay() {
  way.value = WAYS[(WAYS.findIndex((one) => one.name === way.value) + 1) % WAYS.length]!.name
}

/** What a choice that was refused would be, and what stands instead. */
function sides(save: Save) {
  if (save.passage) return passages.sides(save)
  const criterion = criteria.value.find((one) => one.id === save.criterionId)
  if (save.kind !== 'choice' || !criterion) return null
  const choices = it.marks.get(save.studentId)?.choices
  const there = choices?.find((one) => one.criterion_id === save.criterionId)
  return { mine: nameOfChoice(criterion, save), there: nameOfChoice(criterion, there) }
}

function half() {
  toRubric()
  const criterion = current.value
  if (!criterion || toggleHalf(criterion.id)) return
  said.value =
    criterion.half_way && criterion.kind === 'levels'
      ? 'Half-way goes up from a level: choose the lower one of the two first.'
      : `“${criterion.title}” has no half-way.`
}

/** Choose nothing any more, and say so. */
function clearChoice(criterion: CriterionOut) {
  if (!clear(criterion.id)) return
  void nextTick(() => (said.value = `Cleared: “${criterion.title}”`))
}

function writeRemark() {
  toRubric()
  void nextTick(() => focusOn('[data-remark]'))
}

useDeskKeys({
  choose: (place) => whenHere(() => (toRubric(), choosePlace(place))),
  half: () => whenHere(half),
  notAssessed: () => whenHere(() => (current.value ? notAssessed(current.value.id) : false)),
  clear: () => whenHere(() => (current.value ? (toRubric(), clearChoice(current.value)) : false)),
  go: (by) => whenHere(() => (toRubric(), go(by))),
  step,
  remark: () => whenHere(() => passages.remarkOnSelected() || writeRemark()),
  bank: () => whenHere(() => (toRubric(), bank.open())),
  caret: () => whenHere(() => (toWork(), passages.caret())),
  draw: (kind) => whenHere(() => (toWork(), passages.draw(kind, true))),
  undo: () => passages.undo(),
  leaveWork: remarking.leaveWork,
  way: nextWay,
  spread: () => void (spreadShown.value = !spreadShown.value),
  record: () => whenHere(remarking.record),
  history: () => whenHere(() => (toRubric(), void (historyShown.value = !historyShown.value))),
  fullScreen: () => middle.value?.fullScreen(),
  newEntry: () => whenHere(newEntry),
  hide: toggle,
  finish: () => whenHere(finishAndNext),
})
usePageTitle(() => it.desk.value && `Marking ${it.desk.value.task.title}`)
</script>

<template>
  <QueryState v-if="!desk" class="page" :error="loadError" :pending="!loadError" @again="it.load" />
  <div v-else class="desk" :class="`on-${side}`" :style="{ '--rubric': `${rubricWidth}px` }">
    <DeskStudents
      :students="ids.map((id) => where.get(id)!)"
      :current="currentId"
      :to-mark="toMark"
      :can-hide="canHide"
      :hidden="hidden"
      :ended="ended"
      :name-of="nameOf"
      :several="hasEntries(desk.task.kind)"
      @open="open"
      @hide="toggle()"
    />
    <DeskSides v-model="side" />
    <DeskWork
      ref="middle"
      :desk="desk"
      :class-id="classId"
      :name="nameOf(currentId)"
      :hidden="hidden"
      :work="work"
      :mark="mark"
      :error="markErrors.get(currentId) ?? null"
      :entries="entriesOf(currentId)"
      @again="look"
      @entry="openEntry"
      @leave="toLevels"
    >
      <template #tools><PassageTools v-if="mark" :it="passages" /></template>
      <template #exemplars>
        <ExemplarTools v-if="mark" :it="exemplars" :student-id="currentId" :mark="mark" />
      </template>
      <template v-if="exemplars.beside.value" #beside>
        <ExemplarBeside :one="exemplars.beside.value" />
      </template>
    </DeskWork>
    <Divider
      v-model="rubricWidth"
      class="between"
      label="Width of the rubric"
      :least="320"
      :most="mostWide"
      :first="RUBRIC_WIDTH"
    />
    <section class="rubric" aria-label="Rubric">
      <WayBar v-model:way="way" v-model:spread="spreadShown" />
      <MarkHistory
        v-if="historyShown && mark"
        :key="currentId"
        :task-id="taskId"
        :student-id="currentId"
        :mark="mark"
        :look="lookAgain(currentId)"
        @close="closeHistory"
      />
      <div v-else class="criteria">
        <CountingNotice v-if="mark?.counting" :counting="mark.counting" />
        <CriterionMark
          v-for="(criterion, index) in criteria"
          :key="`${currentId} ${criterion.id}`"
          :criterion="criterion"
          :choice="choiceOf(criterion.id)"
          :remark="remarkOf(criterion.id)"
          :agreed="exemplars.agreedOn(criterion.key)"
          :passages="remarking.passagesOn(criterion.id)"
          :open="whole || index === at"
          :current="index === at"
          :ready="Boolean(mark)"
          :scales="scaleOf"
          :outcomes="outcomeOf"
          :needs="work?.needs.filter((one) => one.criterion_id === criterion.id)"
          @open="whenHere(() => void (at = index))"
          @choose="(levelId) => chooseLevel(criterion.id, levelId)"
          @half="toggleHalf(criterion.id)"
          @not-assessed="notAssessed(criterion.id)"
          @clear="clearChoice(criterion)"
          @remark="(text) => it.remark(currentId, criterion.id, text)"
        >
          <SpreadSign
            v-if="spreadShown && (index === at || whole)"
            :criterion="criterion"
            :spread="spreads.get(criterion.id)"
          />
          <RemarksAt
            :it="remarking"
            :criterion-id="criterion.id"
            :level-id="choiceOf(criterion.id)?.level_id ?? null"
            :current="index === at"
            @leave="toLevels"
          />
        </CriterionMark>
        <div class="on-whole">
          <RemarkField
            :key="currentId"
            label="Remark on the whole"
            :text="remarkOf(null)"
            :disabled="!mark"
            @save="(text) => it.remark(currentId, null, text)"
            @leave="toLevels"
          />
          <RemarksAt
            current
            :it="remarking"
            :criterion-id="null"
            :level-id="null"
            @leave="toLevels"
          />
        </div>
      </div>
      <SeenSign
        :class-id="classId"
        :task-id="taskId"
        :student-id="currentId"
        :mark="mark ?? null"
      />
      <DeskFoot
        :task-id="taskId"
        :mark="mark"
        :left="left"
        :refused="refused"
        :name-of="nameOf"
        :sides="sides"
        :said="said"
        :onto="way === 'across' && left.length ? 'Next student' : undefined"
        :scales="scaleOf"
        @finish="finishAndNext"
        @history="historyShown = !historyShown"
        @decide="it.decide"
        @adjusted="it.take(currentId, $event)"
      >
        <RouterLink
          v-if="elsewhere && said"
          :to="{
            name: 'desk',
            params: { classId: elsewhere.class_id, taskId: elsewhere.id },
          }"
          >Next: {{ elsewhere.title }}, {{ elsewhere.to_mark }} to mark</RouterLink
        >
      </DeskFoot>
    </section>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 9px min(var(--rubric), 100vw - 520px);
  height: calc(100vh - 57px);
}
.rubric {
  background: var(--card);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.criteria {
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.on-whole {
  padding: 10px 16px 14px;
}
@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr) 9px min(var(--rubric), 400px);
    grid-template-rows: auto minmax(0, 1fr);
  }
}
/* Between a phone, where one scrolls from one to the other, and a window that has room for both. */
@media (min-width: 761px) and (max-width: 900px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto auto minmax(0, 1fr);
  }
  .between,
  .on-work .rubric,
  .on-rubric :deep(.work) {
    display: none;
  }
}
@media (max-width: 760px) {
  .between {
    display: none;
  }
}
@media (max-width: 760px) {
  .desk {
    display: block;
    height: auto;
  }
  .rubric {
    border-left: 0;
  }
}
</style>
