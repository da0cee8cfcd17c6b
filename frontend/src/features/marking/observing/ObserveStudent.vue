<script setup lang="ts">
import { deviceTime } from '@/api/clock'
import { NButton } from 'naive-ui'
import { useSwipe } from '@vueuse/core'
import { ChevronLeft, ChevronRight } from '@lucide/vue'
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { CriterionOut, FeedbackOut, MarkOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import FeedbackAt from '@/features/marking/recording/FeedbackAt.vue'
import RemarkField from '@/features/marking/desk/RemarkField.vue'
import { useFeedback } from '@/features/marking/recording/useFeedback'
import { newKey } from '@/api/upload'
import { levelSign, longDay } from '@/design/format'
import LevelButtons from './LevelButtons.vue'
import { isThere, NOTHING, wasSeen, type Choice } from './seen'
import type { useObservation } from './useObservation'

/** One student in the room: every criterion, with words, a voice note or a photograph. */
const props = defineProps<{
  it: ReturnType<typeof useObservation>
  taskId: number
  studentId: number
  /** The students in the order they are gone through. */
  order: readonly number[]
}>()
const emit = defineEmits<{ go: [studentId: number]; close: [] }>()

const one = computed(() =>
  props.it.found.value?.students.find((other) => other.student.id === props.studentId),
)
const shown = computed(() => props.it.shown.value.get(props.studentId))
const place = computed(() => props.order.indexOf(props.studentId))
const step = (by: number) => {
  const to = props.order[place.value + by]
  if (to !== undefined) emit('go', to)
}
const sheet = useTemplateRef('sheet')
const { lengthX, lengthY } = useSwipe(sheet, {
  threshold: 60,
  onSwipeEnd(_, direction) {
    if (Math.abs(lengthX.value) < 2 * Math.abs(lengthY.value)) return
    if (direction === 'left') step(1)
    if (direction === 'right') step(-1)
  },
})

const scaleOf = (criterion: CriterionOut): ScaleOut | undefined => {
  const tie = criterion.alignments[0]
  const outcome = props.it.found.value?.outcomes.find((other) => other.id === tie?.outcome_id)
  return props.it.found.value?.scales.find((scale) => scale.id === outcome?.scale_id)
}
const outcomesOf = (criterion: CriterionOut) =>
  (props.it.found.value?.outcomes ?? []).flatMap((outcome, at) => {
    if (!criterion.alignments.some((tie) => tie.outcome_id === outcome.id)) return []
    const scale = props.it.found.value?.scales.find((other) => other.id === outcome.scale_id)
    const glance = one.value?.glances[at]
    if (!scale) return []
    const level = glance?.level ?? null
    const words = level === null ? 'no evidence yet' : (scale.levels[level]?.name ?? '')
    return [{ outcome, scale, level, words, value: glance?.value ?? '' }]
  })
/** What is shown was seen at an earlier observation. */
const quiet = computed(() => props.it.isQuiet(props.studentId))
const choiceOn = (criterion: CriterionOut) => props.it.shownOn(props.studentId, criterion.id)
const levelOn = (criterion: CriterionOut) =>
  criterion.levels.find((level) => level.id === choiceOn(criterion).level_id)
const choose = (criterion: CriterionOut, choice: Choice) =>
  props.it.choose([props.studentId], criterion.id, choice)

/** Half-way up from the chosen level, where the criterion has it. */
const canHalf = (criterion: CriterionOut) =>
  criterion.half_way &&
  criterion.kind === 'levels' &&
  levelOn(criterion) !== undefined &&
  levelOn(criterion) !== criterion.levels.at(-1)

/** Recordings and photographs of the attempt at hand, as far as the server tells. */
const sent = shallowRef<readonly FeedbackOut[]>([])
const mark = computed(() => ({ attempt: one.value?.attempt ?? 1 }) as MarkOut)
async function lookForFiles() {
  const { studentId } = props
  sent.value = []
  if (!one.value?.files.length && !one.value?.student.done_at) return
  try {
    const work = await ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}', {
        params: {
          path: { task_id: props.taskId, student_id: studentId, attempt: mark.value.attempt },
        },
      }),
    )
    if (studentId === props.studentId) sent.value = work.feedback
  } catch {
    // What is there already is shown when the server answers again.
  }
}
const feedback = useFeedback({
  taskId: props.taskId,
  studentId: computed(() => props.studentId),
  mark,
  feedback: sent,
  saved: () => void lookForFiles(),
  async prepare(at) {
    const begun = await ask(
      api.POST('/api/tasks/{task_id}/students/{student_id}/taps', {
        params: { path: { task_id: at.taskId, student_id: at.studentId } },
        body: { key: newKey(), waited_ms: Math.max(0, deviceTime() - Date.parse(at.startedAt)) },
      }),
    )
    return begun.attempt
  },
})
const open = ref<number | null>(null)
watch(
  () => props.studentId,
  () => {
    open.value = null
    void lookForFiles()
  },
  { immediate: true },
)

const conflicts = computed(() => props.it.conflicts.value.get(props.studentId) ?? [])
const titleOf = (id: number | null) =>
  props.it.found.value?.criteria.find((criterion) => criterion.id === id)?.title ?? ''
function wordOf(id: number | null, choice: Choice): string {
  const criterion = props.it.found.value?.criteria.find((other) => other.id === id)
  if (choice.not_assessed) return 'not assessed'
  const level = criterion?.levels.find((other) => other.id === choice.level_id)
  return level ? levelSign(level.name, choice.half_way) : 'nothing'
}
</script>

<template>
  <section v-if="one && shown" ref="sheet" class="sheet" :aria-label="one.student.name">
    <header class="head">
      <button
        class="step"
        type="button"
        aria-label="Previous student"
        :disabled="place <= 0"
        @click="step(-1)"
      >
        <ChevronLeft :size="22" aria-hidden="true" />
      </button>
      <div class="who">
        <h2>{{ one.student.name }}</h2>
        <p class="small quiet">
          {{ place + 1 }} of {{ order.length }}
          <template v-if="shown.absent"> · absent today</template>
          <template v-else-if="one.earlier"> · seen {{ longDay(one.earlier.day) }}</template>
        </p>
      </div>
      <button
        class="step"
        type="button"
        aria-label="Next student"
        :disabled="place >= order.length - 1"
        @click="step(1)"
      >
        <ChevronRight :size="22" aria-hidden="true" />
      </button>
    </header>
    <p v-if="!isThere(one)" class="small quiet">Excused from this task.</p>
    <p v-for="two in conflicts" :key="two.save.id" class="two small" role="alert">
      <b class="clay">{{ titleOf(two.save.criterionId) || 'Not saved' }}:</b>
      {{ two.message }}.
      <template v-if="two.save.kind === 'seen'">
        You chose <b>{{ wordOf(two.save.criterionId, two.save) }}</b>; there now:
        <b>{{
          wordOf(two.save.criterionId, it.choiceOf(studentId, two.save.criterionId ?? 0))
        }}</b>.
      </template>
      <q v-else-if="two.save.kind === 'said'">{{ two.save.text }}</q>
      <span class="row">
        <NButton @click="it.decide(two.save, false)">Keep what is there</NButton>
        <NButton @click="it.decide(two.save, true)">{{
          two.stale ? 'Use mine' : 'Try again'
        }}</NButton>
      </span>
    </p>
    <p v-if="quiet" class="row again">
      <NButton size="large" @click="it.seeAgain()">Observe again today</NButton>
    </p>
    <article v-for="criterion in it.found.value?.criteria" :key="criterion.id" class="criterion">
      <h3>{{ criterion.title }}<span v-if="criterion.bonus" class="tag">bonus</span></h3>
      <p v-for="at in outcomesOf(criterion)" :key="at.outcome.id" class="glance small quiet">
        <Ladder
          :level="at.level"
          :levels="at.scale.levels.length"
          :mastery-level="at.scale.mastery_level"
          :size="15"
        />
        {{ at.outcome.code }} now: {{ at.words }}{{ at.value && ` (${at.value})` }}
      </p>
      <LevelButtons
        :criterion="criterion"
        :scale="scaleOf(criterion)"
        :name="one.student.name"
        :level-id="choiceOn(criterion).level_id"
        :half-way="choiceOn(criterion).half_way"
        :carried="quiet || shown.carried.has(criterion.id)"
        :disabled="!isThere(one)"
        @choose="choose(criterion, $event)"
      />
      <p v-if="shown.carried.has(criterion.id)" class="small quiet">
        Met before and carried over: choose a level to mark it anew.
      </p>
      <p v-if="levelOn(criterion)" class="small said-level">
        <b>{{ levelSign(levelOn(criterion)?.name, choiceOn(criterion).half_way) }}</b>
        {{ levelOn(criterion)!.descriptor }}
      </p>
      <p v-else-if="choiceOn(criterion).not_assessed" class="small quiet">Not assessed</p>
      <p v-if="quiet && shown.earlier?.remarks.get(criterion.id)" class="small" dir="auto">
        “{{ shown.earlier.remarks.get(criterion.id) }}”
      </p>
      <div v-if="isThere(one) && !quiet" class="row more">
        <NButton
          v-if="canHalf(criterion)"
          size="large"
          quaternary
          :aria-pressed="choiceOn(criterion).half_way"
          @click="
            choose(criterion, {
              ...choiceOn(criterion),
              half_way: !choiceOn(criterion).half_way,
            })
          "
          >Half-way up</NButton
        >
        <NButton
          v-if="!choiceOn(criterion).not_assessed"
          size="large"
          quaternary
          @click="choose(criterion, { ...NOTHING, not_assessed: true })"
          >Not assessed</NButton
        >
        <NButton
          v-if="!it.isNothing(choiceOn(criterion)) && !shown.carried.has(criterion.id)"
          size="large"
          quaternary
          @click="choose(criterion, NOTHING)"
          >Clear</NButton
        >
      </div>
      <RemarkField
        v-if="isThere(one) && !quiet"
        :key="`${studentId} ${criterion.id}`"
        :label="`A word on ${criterion.title}`"
        :text="shown.remarks.get(criterion.id) ?? ''"
        @save="it.write(studentId, criterion.id, $event)"
      />
      <FeedbackAt
        v-if="isThere(one) && !quiet"
        :it="feedback"
        :place="{ criterionId: criterion.id, passageKey: null }"
        ready
        photo
      />
    </article>
    <div v-if="isThere(one)" class="row absent">
      <NButton
        size="large"
        :aria-pressed="shown.absent"
        :disabled="!shown.absent && (quiet || wasSeen(shown))"
        @click="it.setAbsent(studentId, !shown.absent)"
        >{{ shown.absent ? 'Here after all' : 'Absent' }}</NButton
      >
      <NButton class="push" size="large" @click="emit('close')">Back to the class</NButton>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  padding: 0 16px 24px;
  touch-action: pan-y;
}
.head {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 10px 0;
}
.who {
  flex: 1;
  min-width: 0;
  text-align: center;
  overflow-wrap: anywhere;
}
h2 {
  font-size: 20px;
}
.step {
  flex: none;
  width: 48px;
  height: 48px;
  display: grid;
  place-items: center;
  border: 1px solid var(--line);
  border-radius: var(--r);
  background: var(--card);
  color: var(--ink);
  cursor: pointer;
}
.step:disabled {
  color: var(--line);
  cursor: default;
}
.criterion {
  padding: 14px 0;
  border-top: 1px solid var(--line);
  display: grid;
  gap: 8px;
}
h3 {
  font-size: 16px;
  font-weight: 650;
  font-family: var(--body);
}
h3 .tag {
  margin-left: 8px;
}
.glance {
  display: flex;
  align-items: center;
  gap: 7px;
}
.said-level {
  background: var(--sunk);
  padding: 8px 10px;
  border-radius: var(--r);
}
.more {
  flex-wrap: wrap;
  gap: 6px;
  margin-left: -18px;
}
.more [aria-pressed='true'] {
  font-weight: 650;
  text-decoration: underline;
}
.two {
  border: 1px solid var(--clay);
  border-radius: var(--r);
  padding: 10px 12px;
  margin-bottom: 10px;
}
.two .row {
  margin-top: 8px;
  flex-wrap: wrap;
}
.absent {
  padding-top: 14px;
  border-top: 1px solid var(--line);
}
</style>
