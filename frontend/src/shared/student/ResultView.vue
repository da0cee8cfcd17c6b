<script setup lang="ts">
import { attemptWord } from '@/shared/states'
import { computed, provide, reactive, ref, shallowRef } from 'vue'
import type { AttemptsRule, CriterionForStudentOut, WorkMoveOut, ResultOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { dayAndTime, levelWords } from '@/design/format'
import { useSession } from '@/shared/session'
import WorkParts from '@/shared/files/WorkParts.vue'
import { remarkId } from '@/shared/passages/paint'
import { PASSAGES } from '@/shared/passages/passages'
import FeedbackItem from './FeedbackItem.vue'
import PassageList from './PassageList.vue'

/** What a student gets back: levels with the next one up, remarks, total, and what moved. */
const props = defineProps<{
  result: ResultOut
  /** As it would be, handed back now. */
  preview?: boolean
  /** A teacher looks at it, as their student sees it. */
  teacher?: boolean
}>()
const own = computed(() => !props.preview && !props.teacher)
const { timeZone } = useSession()
/** Recordings and files on a criterion, or (null) on the whole; those of passages stand with them. */
const feedbackOn = (criterionId: number | null) =>
  props.result.feedback.filter(
    (one) => one.passage_key === null && one.criterion_id === criterionId,
  )
const rows = computed(() =>
  props.result.criteria.map((criterion) => {
    const choice = props.result.choices.find((one) => one.criterion_id === criterion.id)
    const at = criterion.levels.findIndex((one) => one.id === choice?.level_id)
    return {
      criterion,
      level: at < 0 ? null : at,
      half: choice?.half_way ?? false,
      notAssessed: choice?.not_assessed ?? false,
      carriedFrom: choice?.carried_from,
      next: at >= 0 ? criterion.levels[at + 1] : undefined,
      remark: props.result.remarks.find((one) => one.criterion_id === criterion.id)?.text,
      passages: props.result.passages.filter((one) => one.criterion_id === criterion.id),
      feedback: feedbackOn(criterion.id),
    }
  }),
)
/** Which of several attempts the task's total is of. */
const RULE_WORDS = {
  latest: 'the latest',
  highest: 'the highest',
  mean: 'the mean',
  every: 'the latest',
} satisfies Record<AttemptsRule, string>
/** There is more to say of the total than what the criteria come to. */
const told = computed(() => {
  const total = props.result.total
  return !!total && (total.lines.length > 1 || !!total.waived || total.by_hand !== null)
})
const whole = computed(() => props.result.remarks.find((one) => one.criterion_id === null)?.text)
/** Of a criterion that is not asked any more they are on the whole, too. */
const onWhole = computed(() => {
  const criteria = new Set(props.result.criteria.map((one) => one.id))
  return props.result.passages.filter((one) => !criteria.has(one.criterion_id ?? 0))
})
provide(PASSAGES, {
  passages: computed(() => props.result.passages),
  lit: ref(null),
  linked: true,
  openPart: shallowRef(null),
  lost: reactive(new Set<string>()),
  pressed(key) {
    const remark = document.getElementById(remarkId(key))
    remark?.scrollIntoView({ block: 'center' })
    remark?.focus({ preventScroll: true })
  },
})
/** What another value or state came of. */
const moved = computed(() =>
  props.result.moved.filter(
    (one) => one.before.value !== one.after.value || one.before.state !== one.after.state,
  ),
)
/** What of mastery was gained, kept or lost. */
function movedTo(one: WorkMoveOut): { text: string; tone: string } | null {
  const [was, is] = [one.before.state === 'mastered', one.after.state === 'mastered']
  if (is) return { text: was ? 'still mastered' : 'mastered now', tone: 'mastered' }
  return was ? { text: 'not mastered any more', tone: 'clay' } : null
}
const metAt = (one: CriterionForStudentOut) => one.met_level ?? one.levels.length
const when = (iso: string) => dayAndTime(iso, timeZone.value)
</script>

<template>
  <div class="result">
    <div class="work">
      <p class="quiet small">
        <template v-if="result.handed_in_at">Handed in {{ when(result.handed_in_at) }} · </template>
        {{
          preview ? 'as it would be, handed back now' : `handed back ${when(result.handed_back_at)}`
        }}
        · {{ attemptWord(result.task.kind).toLowerCase() }} {{ result.attempt }}
      </p>
      <WorkParts class="parts" :parts="result.work" :own="own" />
      <p v-if="!result.work.length" class="quiet">Nothing was handed in here on screen.</p>
    </div>
    <div class="levels">
      <div class="row head">
        <h2>{{ own ? 'Your levels' : 'Levels' }}</h2>
        <b v-if="result.total && Number(result.total.out_of)" class="push"
          >{{ result.total.value }} of {{ result.total.out_of }}</b
        >
      </div>
      <p v-if="result.word" class="small word">
        {{ result.word }}
      </p>
      <p v-if="whole" class="whole" dir="auto">“{{ whole }}”</p>
      <PassageList
        v-if="onWhole.length"
        :passages="onWhole"
        :feedback="result.feedback"
        :own="own"
      />
      <FeedbackItem v-for="one in feedbackOn(null)" :key="one.id" :one="one" :own="own" />
      <section v-for="row in rows" :key="row.criterion.id" :aria-label="row.criterion.title">
        <Ladder
          :level="row.level"
          :levels="row.criterion.levels.length"
          :mastery-level="metAt(row.criterion)"
          :size="30"
        />
        <div>
          <h3>
            {{ row.criterion.title }}
            <span class="quiet">
              ·
              <template v-if="row.level !== null"
                >{{ levelWords(row.criterion.levels[row.level]?.name, row.half) }}
              </template>
              <template v-if="row.carriedFrom"
                >, carried over from attempt {{ row.carriedFrom }}</template
              >
              <template v-else-if="row.level === null">{{
                preview && !row.notAssessed ? 'not marked yet' : 'not assessed'
              }}</template>
            </span>
          </h3>
          <p v-if="row.level !== null">{{ row.criterion.levels[row.level]!.descriptor }}</p>
          <p v-if="row.remark" class="remark" dir="auto">“{{ row.remark }}”</p>
          <PassageList
            v-if="row.passages.length"
            :passages="row.passages"
            :feedback="result.feedback"
            :own="own"
          />
          <FeedbackItem v-for="one in row.feedback" :key="one.id" :one="one" :own="own" />
          <p v-if="row.next?.descriptor" class="climb small">
            <b>To climb:</b> {{ row.next.descriptor }}
          </p>
        </div>
      </section>
      <p v-if="result.total?.by_hand" class="small">
        {{ own ? 'Your teacher set the total' : 'Total set by hand' }}: “{{ result.total.by_hand }}”
      </p>
      <p v-if="result.over_attempts" class="small">
        Over {{ own ? 'your' : 'all' }} attempts, {{ RULE_WORDS[result.attempts_rule] }} counts:
        <b>{{ result.over_attempts }}</b>
      </p>
      <details v-if="result.total && told" class="small lines">
        <summary>How the total comes about</summary>
        <p v-for="(line, at) in result.total.lines" :key="at" class="row">
          <span>{{ line.kind === 'rubric' ? 'Criteria' : line.reason }}</span>
          <span class="push">{{ line.amount }}</span>
        </p>
        <p v-if="result.total.waived" class="row">
          <span>{{ result.total.waived.reason }}, waived</span>
          <span class="push">0.00</span>
        </p>
        <p v-if="result.total.by_hand && result.total.calculated" class="row">
          <span>By calculation</span><span class="push">{{ result.total.calculated }}</span>
        </p>
      </details>
      <template v-if="moved.length">
        <h2 class="moved">Moved by this work</h2>
        <p class="quiet small">As it was when it was handed back</p>
        <p v-for="one in moved" :key="one.id" class="row move">
          <Ladder
            :level="one.after.level"
            :levels="one.scale.levels.length"
            :mastery-level="one.scale.mastery_level"
            :uncertain="one.after.state === 'needs-evidence'"
          />
          <span
            >{{ one.title }}
            <span v-if="movedTo(one)" class="small" :class="movedTo(one)!.tone">{{
              movedTo(one)!.text
            }}</span></span
          >
          <span class="push small quiet nowrap"
            >{{ one.before.value ?? 'no evidence' }} → {{ one.after.value }}</span
          >
        </p>
      </template>
      <slot />
    </div>
  </div>
</template>

<style scoped>
.result {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(320px, 1fr);
  gap: 28px;
}
.parts {
  margin-top: 10px;
}
.head {
  border-bottom: 1px solid var(--edge);
  padding-bottom: 4px;
}
.word {
  padding-top: 6px;
}
.word::first-letter {
  text-transform: uppercase;
}
.whole {
  padding: 10px 0 4px;
}
section {
  display: flex;
  gap: 14px;
  padding: 11px 0;
  border-bottom: 1px solid var(--line);
}
section > div {
  min-width: 0;
  overflow-wrap: anywhere;
}
h3 span {
  font-family: var(--body);
  font-weight: 400;
}
.remark {
  margin-top: 4px;
  white-space: pre-wrap;
}
.climb {
  margin-top: 6px;
  padding-left: 8px;
  border-left: 2px solid var(--edge);
}
.lines {
  padding: 10px 0;
}
.moved {
  margin: 16px 0 4px;
}
.move {
  padding: 4px 0;
}
.mastered {
  color: var(--jade-deep);
  font-weight: 650;
}
.nowrap {
  white-space: nowrap;
}
@media print {
  .result {
    display: block;
  }
  .levels {
    margin-top: 18px;
  }
  section {
    break-inside: avoid;
  }
}
@media (max-width: 900px) {
  .result {
    grid-template-columns: minmax(0, 1fr);
  }
  /* Levels and remarks first: they are what one came for. */
  .work {
    order: 2;
  }
}
</style>
