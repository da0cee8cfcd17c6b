<script setup lang="ts">
import { computed } from 'vue'
import type { OutcomeInAllClassesOut } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import Ladder from '@/design/Ladder.vue'
import { several } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { ladderWords } from '@/features/mastery/wall'
import { useNameOrder } from '@/shared/order'
import { usePageTitle } from '@/shared/pageTitle'
import OutcomeCard from './OutcomeCard.vue'
import { useAllClasses } from './useOverTerm'

/** One outcome over all of one's classes: each class on it, with its students. */
const props = defineProps<{ classId: number; outcomeId: number }>()
const { data, error, isPending, refetch } = useAllClasses(
  () => props.classId,
  () => props.outcomeId,
)
const { byName } = useNameOrder()
type InClass = OutcomeInAllClassesOut['classes'][number]
type OnOutcome = InClass['students'][number]
const named = (one: InClass) => new Map(one.students.map((student) => [student.id, student]))
/** The lowest first: who needs something stands on top; without a value last. */
function ordered(one: InClass): OnOutcome[] {
  const value = (student: OnOutcome) =>
    student.value === null || !student.expected ? Infinity : Number(student.value)
  return [...byName(one.students)].sort((a, b) => value(a) - value(b) || 0)
}
const total = computed(() => {
  const all = data.value?.classes.map((one) => one.over_term.now) ?? []
  const counted = all.flatMap((one) => one.at_level).reduce((sum, count) => sum + count, 0)
  return { mastered: all.reduce((sum, one) => sum + one.mastered, 0), counted }
})
function words(student: OnOutcome): string {
  if (!student.expected) return 'not expected'
  const parts = [ladderWords(student, data.value!.scale!)]
  if (student.slipped) parts.push('slipped')
  if (student.close) parts.push('close')
  if (student.judged) parts.push('judged')
  return parts.join(', ')
}
usePageTitle(() => data.value && `${data.value.code} in all my classes`)
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1 v-if="data">{{ data.code }} in all my classes</h1>
      <h1 v-else>In all my classes</h1>
      <div class="actions">
        <LinkButton bare :to="{ name: 'outcome', params: { classId, outcomeId } }"
          >The outcome</LinkButton
        >
        <LinkButton bare :to="{ name: 'mastery', params: { classId } }">Mastery wall</LinkButton>
      </div>
    </div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-if="data && !data.classes.length" title="No class teaches it now">
      Classes that are set aside are left out.
    </EmptyState>
    <template v-else-if="data">
      <p class="lead">
        {{ data.title }}: <b>{{ total.mastered }} of {{ total.counted }}</b> mastered in
        {{ several(data.classes.length, 'class', 'classes') }}.
      </p>
      <div class="classes">
        <section v-for="one in data.classes" :key="one.class_id" :aria-label="one.class_name">
          <h2>{{ one.class_name }}</h2>
          <p class="small quiet">by {{ one.method }}</p>
          <OutcomeCard
            :class-id="one.class_id"
            :outcome="one.over_term"
            :scale="data.scale!"
            :days="one.days"
            :students="named(one)"
          />
          <ul>
            <li v-for="student in ordered(one)" :key="student.id">
              <RouterLink
                :to="{
                  name: 'mastery',
                  params: { classId: one.class_id },
                  query: { student: student.id, outcome: outcomeId },
                }"
                >{{ student.name }}</RouterLink
              >
              <span class="value">
                <template v-if="student.expected && student.value !== null">
                  <Ladder
                    :level="student.level"
                    :levels="data.scale!.levels.length"
                    :mastery-level="data.scale!.mastery_level"
                    :size="16"
                    :uncertain="student.state === 'needs-evidence'"
                    :label="words(student)"
                  />
                  {{ student.value }}
                  <span v-if="student.slipped" class="clay" aria-hidden="true">▾</span>
                </template>
                <span v-else class="quiet">{{ student.expected ? 'no evidence' : 'n.e.' }}</span>
              </span>
            </li>
          </ul>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.classes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 22px;
  align-items: start;
}
section {
  min-width: 0;
  overflow-wrap: anywhere;
}
h2 {
  margin: 10px 0 0;
}
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  border-bottom: 1px solid var(--line);
  padding: 5px 0;
}
.value {
  flex: none;
  display: inline-flex;
  gap: 7px;
  align-items: center;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
