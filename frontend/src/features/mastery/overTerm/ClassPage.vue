<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import DateField from '@/design/controls/DateField.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import { several, today } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { useSession } from '@/shared/session'
import OutcomeCard from './OutcomeCard.vue'
import TasksOverTerm from './TasksOverTerm.vue'
import { useClassOutcomes } from './useOverTerm'

/** The class as a whole: on its outcomes, and at its tasks, now and over the term. */
const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const { timeZone } = useSession()
const byTasks = computed(() => route.query.show === 'tasks')
const text = (value: unknown) => (typeof value === 'string' ? value : '')
const since = computed({
  get: () => text(route.query.since),
  set: (day) => void router.replace({ query: { ...route.query, since: day || undefined } }),
})
const { data, error, isPending, refetch } = useClassOutcomes(() => props.classId, since)
const shownSince = computed({
  get: () => since.value || (data.value?.since ?? ''),
  set: (day: string) => (since.value = day),
})
const scales = computed(() => new Map(data.value?.scales.map((one) => [one.id, one])))
const students = computed(() => new Map(data.value?.students.map((one) => [one.id, one])))
const notGot = computed(() => data.value?.outcomes.filter((one) => one.not_got) ?? [])
/** Outcomes under their strands, as on the wall. */
const strands = computed(() => {
  const titles = new Map(data.value?.strands.map((one) => [one.id, one.title]))
  const found: { title: string; outcomes: NonNullable<typeof data.value>['outcomes'] }[] = []
  let before: number | null | undefined
  for (const outcome of data.value?.outcomes ?? []) {
    if (outcome.strand_id !== before || !found.length)
      found.push({ title: titles.get(outcome.strand_id ?? 0) ?? '', outcomes: [] })
    found.at(-1)!.outcomes.push(outcome)
    before = outcome.strand_id
  }
  return found
})
usePageTitle('The class over the term')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>The class over the term</h1>
      <Tag v-if="data">{{ several(data.students.length, 'student') }}</Tag>
      <div class="actions">
        <LinkButton bare :to="{ name: 'mastery', params: { classId } }">Mastery wall</LinkButton>
      </div>
    </div>
    <nav class="ways" aria-label="What is shown">
      <RouterLink
        :to="{ query: {} }"
        :class="{ on: !byTasks }"
        :aria-current="byTasks ? undefined : 'page'"
        >Outcomes</RouterLink
      >
      <RouterLink
        :to="{ query: { show: 'tasks' } }"
        :class="{ on: byTasks }"
        :aria-current="byTasks ? 'page' : undefined"
        >Tasks and criteria</RouterLink
      >
      <DateField
        v-if="!byTasks && data"
        v-model="shownSince"
        class="since"
        label="Who moved since"
        :min="data.first_day"
        :max="today(timeZone)"
        beside
      />
    </nav>
    <TasksOverTerm v-if="byTasks" :class-id="classId" />
    <template v-else>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState
        v-if="data && !error && !data.outcomes.length"
        title="No outcomes to read mastery of"
      >
        Each outcome stands here with how the class spreads over its levels.
        <template #steps
          ><LinkButton main :to="{ name: 'outcomes', params: { classId } }"
            >Write the outcomes</LinkButton
          ></template
        >
      </EmptyState>
      <template v-else-if="data && !error">
        <p v-if="notGot.length" class="lead">
          <b>Not got by the class as a whole:</b>
          <template v-for="(one, at) in notGot" :key="one.id"
            >{{ at ? ', ' : ' '
            }}<a :href="`#outcome-${one.id}`">{{ one.code }} {{ one.title }}</a> ({{
              one.now.mastered
            }}
            of {{ one.now.at_level.reduce((sum, count) => sum + count, 0) }})</template
          >. Fewer than half have it.
        </p>
        <p class="small quiet key">
          Each column is a day of the term: students stacked by level, <b class="jade">jade</b> over
          the line at or above mastery, slate below it, the empty part without enough evidence.
        </p>
        <section v-for="(strand, at) in strands" :key="at" :aria-label="strand.title || 'Outcomes'">
          <h2 v-if="strand.title">{{ strand.title }}</h2>
          <div class="cards">
            <OutcomeCard
              v-for="outcome in strand.outcomes"
              :key="outcome.id"
              :class-id="classId"
              :outcome="outcome"
              :scale="scales.get(outcome.scale_id)!"
              :days="data.days"
              :students="students"
            />
          </div>
        </section>
      </template>
    </template>
  </div>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 22px;
  align-items: center;
  margin-bottom: 14px;
  border-bottom: 1px solid var(--line);
}
.ways a {
  padding: 8px 0;
  color: var(--ink-2);
  text-decoration: none;
  border-bottom: 3px solid transparent;
}
.ways a.on {
  color: var(--ink);
  font-weight: 650;
  border-bottom-color: var(--ink);
}
.since {
  margin-left: auto;
  gap: 6px;
}
.lead {
  max-width: 900px;
}
.key {
  margin: 8px 0 14px;
}
.jade {
  color: var(--jade-deep);
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 12px;
  margin: 8px 0 16px;
  align-items: start;
}
</style>
