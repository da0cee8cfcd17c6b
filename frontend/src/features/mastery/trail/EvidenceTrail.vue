<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useSession } from '@/shared/session'
import { pieceFigures, pieceWords } from '@/shared/nextPiece'
import { seenByStudent } from '@/shared/student/seenOtherwise'
import { useNoting } from '@/shared/notes/useNoting'
import type { MethodOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { longDay } from '@/design/format'
import Expectation from './Expectation.vue'
import JudgementPart from '@/features/mastery/judging/JudgementPart.vue'
import TrailChart from './TrailChart.vue'
import TrailPieces from './TrailPieces.vue'
import WhatIf from './WhatIf.vue'
import { useTrail, useTrailUnder } from './useTrail'
import { ladderWords } from '@/features/mastery/wall'

/** One student, one outcome, over time: value, chart, every method, and where it came from. */
const props = defineProps<{ classId: number; studentId: number; outcomeId: number; asOf: string }>()
defineEmits<{ close: []; several: [] }>()
const { timeZone } = useSession()
const noting = useNoting()
const { data: trail, error, isPending, refetch } = useTrail(props, () => props.asOf)
const level = computed(() => {
  const at = trail.value?.mastery.level
  return at === null || at === undefined ? null : trail.value!.scale.levels[at]!
})
const mastered = computed(() => trail.value?.mastery.state === 'mastered')
/** Whether the evidence alone comes to mastery: what is next reads that. */
const enough = computed(() => trail.value?.calculated.state === 'mastered')

/** Another method, drawn into the chart on wish. */
const under = ref<MethodOut | null>(null)
const { data: underPoints } = useTrailUnder(props, under)
const other = computed(() =>
  under.value && underPoints.value ? { name: under.value.name, points: underPoints.value } : null,
)
const SLIPPED_BY = {
  evidence: '',
  method: ': the method changed',
  judged: ': judged lower',
  lifted: ': a judgement was lifted',
}

/** What the trail tells of the present run. */
const history = computed(() => {
  const found = trail.value
  if (!found) return ''
  const when = (iso: string) => longDay(iso, timeZone.value)
  if (found.mastery.state === 'no-evidence') return ''
  if (found.mastery.state === 'needs-evidence')
    return `needs evidence from ${found.minimum} tasks or notes`
  const first = found.first_reached ? `, first reached ${when(found.first_reached)}` : ''
  if (found.held_since && found.back) return `back since ${when(found.held_since)}${first}`
  if (found.held_since) return `reached ${when(found.held_since)}`
  if (found.slipped_at)
    return `slipped ${when(found.slipped_at)}${SLIPPED_BY[found.slipped_by ?? 'evidence']}${first}`
  return 'not yet mastered'
})
</script>

<template>
  <QueryState v-if="!trail" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else>
    <div class="row">
      <span class="small quiet">Evidence trail</span>
      <NButton
        class="push"
        quaternary
        size="small"
        @click="noting.open(classId, [studentId], outcomeId)"
      >
        Write a note
      </NButton>
      <NButton quaternary size="small" @click="$emit('close')"> Close <kbd>Esc</kbd> </NButton>
    </div>
    <h2 dir="auto">
      <RouterLink :to="{ name: 'student', params: { classId, studentId } }">{{
        trail.student
      }}</RouterLink>
    </h2>
    <p class="small">{{ trail.code }} · {{ trail.title }}</p>
    <p v-if="trail.seen" class="small clay">{{ seenByStudent(trail.seen, trail.scale) }}</p>
    <p class="small">
      <RouterLink :to="{ name: 'students-view', params: { classId, studentId } }"
        >The ladder they see</RouterLink
      >
    </p>
    <Expectation
      :key="`${studentId} ${outcomeId}`"
      :class-id="classId"
      :trail="trail"
      :now="!asOf"
      @changed="refetch()"
    />
    <template v-if="level">
      <div class="big">
        <Ladder
          :level="trail.mastery.level"
          :levels="trail.scale.levels.length"
          :mastery-level="trail.scale.mastery_level"
          :uncertain="trail.mastery.state === 'needs-evidence'"
          :size="50"
          :label="ladderWords(trail.mastery, trail.scale)"
        />
        <div>
          <span class="value">{{ trail.mastery.value }}</span>
          <p class="small">
            <b :class="{ jade: mastered }">{{ level.name }}</b> ·
            <span :class="{ clay: trail.slipped_at && !mastered }">{{ history }}</span>
          </p>
        </div>
      </div>
      <JudgementPart
        :class-id="classId"
        :trail="trail"
        :now="!asOf"
        @changed="refetch()"
        @several="$emit('several')"
      />
      <TrailChart :trail="trail" :time-zone="timeZone" :other="other" />
      <p v-if="trail.next_piece" class="small next">
        <b>Next{{ trail.judgement ? ', by calculation' : '' }}:</b> a new piece at
        {{ pieceWords(trail.next_piece) }} reaches mastery{{ pieceFigures(trail.next_piece) }}.
      </p>
      <p v-else-if="!enough" class="small next">
        <b>Next:</b> no single piece reaches mastery yet.
      </p>
      <details v-if="trail.next_attempts.length" class="small">
        <summary>By another attempt at one of these tasks</summary>
        <ul class="plain">
          <li v-for="one in trail.next_attempts" :key="one.task_id">
            {{ one.task }}:
            <template v-if="one.piece"
              >{{ pieceWords(one.piece) }}{{ pieceFigures(one.piece) }}</template
            >
            <template v-else>no single one reaches mastery</template>
          </li>
        </ul>
      </details>
      <WhatIf v-if="!asOf" :class-id="classId" :trail="trail" />
      <h3 v-if="trail.methods.length">Under each method</h3>
      <table v-if="trail.methods.length" class="methods">
        <tbody>
          <tr v-for="one in trail.methods" :key="one.method.kind" :class="{ on: one.chosen }">
            <th scope="row">
              <template v-if="one.chosen"
                >{{ one.method.name }}
                <span class="small quiet">{{
                  trail.judgement ? 'calculates' : 'counts'
                }}</span></template
              >
              <button
                v-else
                type="button"
                class="show"
                :aria-pressed="under?.kind === one.method.kind"
                :title="`Draw ${one.method.name} into the chart`"
                @click="under = under?.kind === one.method.kind ? null : one.method"
              >
                {{ one.method.name }}
              </button>
            </th>
            <td>{{ one.value }}</td>
            <td>
              <Ladder
                :level="one.level"
                :levels="trail.scale.levels.length"
                :mastery-level="trail.scale.mastery_level"
                :size="15"
                :label="trail.scale.levels[one.level]?.name"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="trail.methods.length" class="small quiet">
        Choose a method to draw it into the chart.
      </p>
      <p class="small sum">{{ trail.sum }}</p>
      <details v-if="trail.steps.length" class="small">
        <summary>Every step, from the first piece</summary>
        <ol class="steps" start="2">
          <li v-for="step in trail.steps" :key="step">{{ step }}</li>
        </ol>
      </details>
    </template>
    <JudgementPart
      v-else
      :class-id="classId"
      :trail="trail"
      :now="!asOf"
      @changed="refetch()"
      @several="$emit('several')"
    />
    <Notice v-if="!level" class="none">
      No evidence {{ trail.pieces.length ? 'counts' : 'yet' }}: nothing
      {{ trail.pieces.length ? 'that is not set aside' : 'marked so far' }} says anything about
      {{ trail.code }} for {{ trail.student }}. That is blank, and not a zero.
    </Notice>
    <TrailPieces
      v-if="trail.pieces.length"
      :class-id="classId"
      :trail="trail"
      :now="!asOf"
      @changed="refetch()"
    />
  </div>
</template>

<style scoped>
.show {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  padding: 0;
  cursor: pointer;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
.show[aria-pressed='true'] {
  font-weight: 650;
  text-decoration: underline;
}
.big {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 10px 0 8px;
}
.value {
  font: 560 34px/1.1 var(--head);
}
.jade {
  color: var(--jade-deep);
}
.next {
  margin: 8px 0;
}
h3 {
  margin: 12px 0 4px;
}
.methods {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
.methods th {
  text-align: left;
  font-weight: 400;
  padding: 2px 0;
}
.methods td {
  text-align: right;
  width: 44px;
  padding: 2px 0;
}
.methods .on th,
.methods .on td {
  font-weight: 650;
}
.methods .on .quiet {
  font-weight: 400;
}
.plain {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
.plain li {
  display: block;
  border: 0;
  padding: 2px 0;
}
.steps {
  margin: 4px 0;
  padding-left: 24px;
}
.steps li {
  display: list-item;
  border: 0;
  padding: 1px 0;
  overflow-wrap: anywhere;
  font-variant-numeric: tabular-nums;
}
.sum {
  margin-top: 6px;
  color: var(--ink-2);
  overflow-wrap: anywhere;
}
.none {
  margin-top: 14px;
}
</style>
