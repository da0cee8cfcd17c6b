<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/app/keys'
import QueryState from '@/design/QueryState.vue'
import CriterionMark from './CriterionMark.vue'
import DeskFoot from './DeskFoot.vue'
import DeskStudents from './DeskStudents.vue'
import DeskWork from './DeskWork.vue'
import RemarkField from './RemarkField.vue'
import { useDesk } from './useDesk'

const props = defineProps<{ classId: number; taskId: number; studentId?: number }>()
const router = useRouter()
const it = useDesk(props.taskId)
const { desk, loadError, marks, markErrors, where } = it
const at = ref(0)
const whole = useLocalStorage('jade-ladder.desk.whole', false)
const hidden = useLocalStorage('jade-ladder.desk.hidden', false)
const said = ref('')

const WAITS = ['waiting', 'started', 'changed']
const ids = computed(() => desk.value?.task.where.map((one) => one.id) ?? [])
const studentId = computed(() => {
  if (props.studentId && ids.value.includes(props.studentId)) return props.studentId
  return ids.value.find((id) => WAITS.includes(where.get(id)?.state ?? '')) ?? ids.value[0] ?? 0
})
const mark = computed(() => marks.get(studentId.value))
const criteria = computed(() => desk.value?.criteria ?? [])
const current = computed(() => criteria.value[at.value])
const left = computed(() => it.left(studentId.value))
const number = computed(() => ids.value.indexOf(studentId.value) + 1)
const name = computed(() =>
  hidden.value ? `Student ${number.value}` : (where.get(studentId.value)?.name ?? ''),
)

watch(
  studentId,
  async (id) => {
    if (!id) return
    await it.fetchMark(id)
    if (studentId.value !== id) return
    const first = criteria.value.findIndex((one) => left.value.some((open) => open.id === one.id))
    at.value = Math.max(0, first)
    doEarly(id)
    // The work of whoever may come next is fetched ahead, so that stepping on is instant.
    const ahead = [nextWaiting(id), ids.value[ids.value.indexOf(id) + 1]]
    for (const next of ahead) if (next) void it.fetchMark(next)
  },
  { immediate: true },
)

/** Keys pressed before the student's work is here: kept in order, and done when it is. */
let early: { id: number; act: () => unknown }[] = []

function whenHere(act: () => unknown): boolean | void {
  if (mark.value) return act() === false ? false : undefined
  early.push({ id: studentId.value, act })
}

function doEarly(id: number) {
  const keys = early
  early = []
  for (const key of keys) if (key.id === id) key.act()
}

function open(id: number | undefined) {
  if (id === undefined) return
  void router.replace({
    name: 'desk',
    params: { classId: props.classId, taskId: props.taskId, studentId: id },
  })
}

function step(by: number) {
  open(ids.value[ids.value.indexOf(studentId.value) + by])
}

/** The next who waits after this one, going round. */
function nextWaiting(id: number): number | undefined {
  const from = ids.value.indexOf(id)
  const others = [...ids.value.slice(from + 1), ...ids.value.slice(0, from)]
  return others.find((one) => WAITS.includes(where.get(one)?.state ?? ''))
}

/** Marking work on paper, of which nothing is entered: the next of whom nothing is here either. */
function nextOnPaper(): number | undefined {
  if (mark.value?.work || desk.value?.task.kind === 'observed') return undefined
  const after = ids.value.slice(ids.value.indexOf(studentId.value) + 1)
  return after.find((one) => ['not-yet', 'missing'].includes(where.get(one)?.state ?? ''))
}

function go(by: number) {
  at.value = Math.max(0, Math.min(criteria.value.length - 1, at.value + by))
  void nextTick(() =>
    document.querySelector('[data-current=true]')?.scrollIntoView({ block: 'nearest' }),
  )
}

function choiceOf(criterionId: number) {
  return mark.value?.choices.find((one) => one.criterion_id === criterionId)
}

function chooseLevel(place: number): boolean {
  const criterion = current.value
  const level = criterion?.levels[place]
  if (!criterion || !level || !mark.value) return false
  choose(criterion.id, level.id, false)
  return true
}

function choose(criterionId: number, levelId: number | null, halfWay: boolean) {
  const now = choiceOf(criterionId)
  const again = now?.level_id === levelId && now?.half_way === halfWay && levelId !== null
  it.choose(studentId.value, criterionId, {
    level_id: again ? null : levelId,
    half_way: again ? false : halfWay,
    not_assessed: false,
  })
}

/** From the chosen level half-way up to the next, and back. */
function toggleHalf(criterionId: number): boolean {
  const criterion = criteria.value.find((one) => one.id === criterionId)
  const now = choiceOf(criterionId)
  if (!criterion?.half_way || criterion.kind === 'yes-no' || !now || now.level_id === null)
    return false
  if (criterion.levels.at(-1)?.id === now.level_id) return false
  it.choose(studentId.value, criterionId, { ...now, half_way: !now.half_way })
  return true
}

function notAssessed(criterionId: number) {
  const now = choiceOf(criterionId)
  it.choose(studentId.value, criterionId, {
    level_id: null,
    half_way: false,
    not_assessed: !now?.not_assessed,
  })
}

function finishAndNext() {
  if (!mark.value) return
  ;(document.activeElement as HTMLElement | null)?.blur()
  const first = left.value[0]
  if (first) {
    at.value = criteria.value.findIndex((one) => one.id === first.id)
    said.value = `Still to mark: ${left.value.map((one) => one.title).join(', ')}`
    return
  }
  said.value = ''
  const next = nextWaiting(studentId.value) ?? nextOnPaper()
  it.finish(studentId.value)
  if (next) open(next)
  else said.value = 'That was the last one that waited.'
}

function writeRemark() {
  void nextTick(() =>
    document.querySelector<HTMLElement>('[data-current=true] [data-remark]')?.focus(),
  )
}

watch([studentId, at], () => (said.value = ''))

useKeys('Marking desk', [
  {
    keys: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
    does: 'Choose a level, 1 the lowest; again takes it back',
    run: (key) => whenHere(() => chooseLevel(Number(key) - 1)),
  },
  {
    keys: ['.'],
    does: 'Half-way up to the next level',
    run: () => whenHere(() => (current.value ? toggleHalf(current.value.id) : false)),
  },
  {
    keys: ['0'],
    does: 'Not assessed',
    run: () => whenHere(() => (current.value ? notAssessed(current.value.id) : false)),
  },
  { keys: ['ArrowDown'], does: 'Next criterion', run: () => whenHere(() => go(1)) },
  { keys: ['ArrowUp'], does: 'Criterion before', run: () => whenHere(() => go(-1)) },
  { keys: ['PageDown', ']'], does: 'Next student', run: () => step(1) },
  { keys: ['PageUp', '['], does: 'Student before', run: () => step(-1) },
  { keys: ['c'], does: 'Write a remark', run: () => whenHere(writeRemark) },
  {
    keys: ['g'],
    does: 'Whole rubric, or one criterion at a time',
    run: () => void (whole.value = !whole.value),
  },
  { keys: ['n'], does: 'Hide names, or show them', run: () => void (hidden.value = !hidden.value) },
  {
    keys: ['Ctrl+Enter'],
    does: 'Finish and go to the next who waits',
    typing: true,
    run: () => whenHere(finishAndNext),
  },
])
</script>

<template>
  <QueryState v-if="!desk" class="page" :error="loadError" :pending="!loadError" @again="it.load" />
  <div v-else class="desk">
    <DeskStudents
      :students="ids.map((id) => where.get(id)!)"
      :current="studentId"
      :to-mark="it.toMark.value"
      :hidden="hidden"
      @open="open"
      @hide="hidden = !hidden"
    />
    <DeskWork
      :desk="desk"
      :class-id="classId"
      :name="name"
      :mark="mark"
      :error="markErrors.get(studentId) ?? null"
      @again="it.fetchMark(studentId, true)"
    />
    <section class="rubric" aria-label="Rubric">
      <div class="views">
        <button
          class="btn"
          :class="{ bare: whole }"
          type="button"
          :aria-pressed="!whole"
          @click="whole = false"
        >
          One at a time
        </button>
        <button
          class="btn"
          :class="{ bare: !whole }"
          type="button"
          :aria-pressed="whole"
          @click="whole = true"
        >
          Whole rubric <kbd>G</kbd>
        </button>
      </div>
      <div class="criteria">
        <CriterionMark
          v-for="(criterion, index) in criteria"
          :key="`${studentId} ${criterion.id}`"
          :criterion="criterion"
          :choice="choiceOf(criterion.id)"
          :remark="mark?.remarks.find((one) => one.criterion_id === criterion.id)?.text ?? ''"
          :open="whole || index === at"
          :current="index === at"
          :ready="Boolean(mark)"
          :scales="it.scaleOf.value"
          :outcomes="it.outcomeOf.value"
          @open="at = index"
          @choose="(levelId) => choose(criterion.id, levelId, false)"
          @half="toggleHalf(criterion.id)"
          @not-assessed="notAssessed(criterion.id)"
          @remark="(text) => it.remark(studentId, criterion.id, text)"
        />
        <div class="on-whole">
          <RemarkField
            :key="studentId"
            label="Remark on the whole"
            :text="mark?.remarks.find((one) => one.criterion_id === null)?.text ?? ''"
            :disabled="!mark"
            @save="(text) => it.remark(studentId, null, text)"
          />
        </div>
      </div>
      <DeskFoot
        :mark="mark"
        :left="left"
        :save-state="it.saveState.value"
        :waiting="it.waiting.value"
        :refusal="it.refusal.value"
        :conflict="it.conflict.value"
        :said="said"
        :scales="it.scaleOf.value"
        @finish="finishAndNext"
        @decide="it.decide"
      />
    </section>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 432px;
  height: calc(100vh - 57px);
}
.rubric {
  background: var(--card);
  border-left: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.views {
  display: flex;
  gap: 8px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--line);
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
    grid-template-columns: minmax(0, 1fr) 400px;
    grid-template-rows: auto minmax(0, 1fr);
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
