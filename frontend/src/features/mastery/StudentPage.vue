<script setup lang="ts">
import HandOut from '@/shared/HandOut.vue'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { StudentOutcomeOut } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import { day, dayAndTime, duration, longDay } from '@/design/format'
import Ladder from '@/design/Ladder.vue'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { seenByStudent } from '@/shared/student/seenOtherwise'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { stateWords } from '@/shared/states'
import { ladderWords } from './wall'

/** One student in a class: each outcome with its ladder, each task with where they stand. */
const props = defineProps<{ classId: number; studentId: number }>()
const { timeZone } = useSession()
const {
  data: page,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.studentPage(props.classId, props.studentId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/mastery/{student_id}', {
        params: { path: { class_id: props.classId, student_id: props.studentId } },
      }),
    ),
})
const scaleOf = computed(() => new Map(page.value?.scales.map((one) => [one.id, one])))
const groups = computed(() => {
  const { strands, outcomes } = page.value ?? { strands: [], outcomes: [] }
  const known = outcomes.map((one) => ({ ...one, scale: scaleOf.value.get(one.scale_id)! }))
  const found = strands.map((strand) => ({
    title: strand.title,
    outcomes: known.filter((one) => one.strand_id === strand.id),
  }))
  const loose = known.filter((one) => !strands.some((strand) => strand.id === one.strand_id))
  return [...found, { title: 'In no strand', outcomes: loose }].filter((one) => one.outcomes.length)
})
const waiting = computed(() => page.value?.tasks.find((task) => task.standing.waits))

const DIRECTIONS: Record<string, string> = { up: '↗ rising', down: '↘ falling' }
function words(one: StudentOutcomeOut): string {
  if (!one.expected) return 'not expected'
  if (one.mastery.judged)
    return `judged, calculated ${one.mastery.calculated ?? 'nothing'}${one.mastery.evidence_changed ? '; the evidence changed since' : ''}`
  if (one.slipped) return 'slipped below mastery'
  if (one.mastery.state === 'no-evidence') return 'no evidence'
  if (one.mastery.state === 'needs-evidence') return 'needs more evidence'
  return DIRECTIONS[one.direction] ?? ''
}
usePageTitle(() => page.value?.name)
</script>

<template>
  <QueryState v-if="!page" class="page" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else class="page">
    <div class="page-head">
      <h1 dir="auto">{{ page.name }}</h1>
      <Tag v-if="page.left_on">left {{ day(page.left_on, 'UTC') }}</Tag>
      <span v-if="page.count" class="quiet"
        >{{ page.count.mastered }} of {{ page.count.of }} outcomes mastered</span
      >
      <div class="actions">
        <LinkButton bare :to="{ name: 'students-view', params: { classId, studentId } }"
          >What they see</LinkButton
        >
        <HandOut what="outcomes" :class-id="classId" :thing="studentId" />
        <LinkButton
          v-if="waiting"
          main
          :to="{ name: 'desk', params: { classId, taskId: waiting.id, studentId } }"
        >
          Mark {{ waiting.title }}
        </LinkButton>
      </div>
    </div>
    <Notice v-if="page.left_on" class="left">
      As of {{ longDay(page.as_of) }}, the last day in the class.
    </Notice>
    <div class="columns">
      <section aria-label="Outcomes">
        <p v-if="!page.outcomes.length" class="quiet">No outcomes to show.</p>
        <template v-for="group in groups" :key="group.title">
          <h2>{{ group.title }}</h2>
          <ul>
            <li v-for="one in group.outcomes" :key="one.id" class="outcome">
              <Ladder
                :level="one.expected ? one.mastery.level : null"
                :levels="one.scale.levels.length"
                :mastery-level="one.scale.mastery_level"
                :uncertain="one.mastery.state === 'needs-evidence'"
                :size="22"
                :label="ladderWords(one.mastery, one.scale)"
              />
              <span>
                <RouterLink
                  :to="{
                    name: 'mastery',
                    params: { classId },
                    query: { student: studentId, outcome: one.id },
                  }"
                  ><b>{{ one.code }}</b> {{ one.title }}</RouterLink
                >
                <span v-if="one.seen" class="small clay block">{{
                  seenByStudent(one.seen, one.scale)
                }}</span>
              </span>
              <span
                class="small quiet"
                :class="{
                  plum: one.mastery.judged,
                  clay: one.slipped && !one.mastery.judged,
                }"
                >{{ words(one) }}</span
              >
              <b class="value">{{ one.expected ? (one.mastery.value ?? '–') : '' }}</b>
            </li>
          </ul>
        </template>
      </section>
      <section aria-label="Tasks">
        <h2>Tasks</h2>
        <p v-if="!page.tasks.length" class="quiet">No task yet.</p>
        <ul>
          <li v-for="task in page.tasks" :key="task.id" class="task">
            <span>
              <RouterLink :to="{ name: 'desk', params: { classId, taskId: task.id, studentId } }">{{
                task.title
              }}</RouterLink>
              <Tag v-if="task.practice">practice</Tag>
              <span class="small quiet block">
                <template v-if="task.standing.done_at"
                  >done {{ dayAndTime(task.standing.done_at, timeZone)
                  }}<span v-if="task.standing.late_minutes" class="clay"
                    >, {{ duration(task.standing.late_minutes) }} late</span
                  ></template
                >
                <template v-else-if="task.due_at"
                  >due {{ dayAndTime(task.due_at, timeZone) }}</template
                >
                <template v-else>no due time</template>
              </span>
            </span>
            <Tag
              :tone="stateWords(task.standing.state, task.standing.left).clay ? 'clay' : undefined"
              >{{ stateWords(task.standing.state, task.standing.left).text }}</Tag
            >
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 8px 36px;
}
.left {
  margin-bottom: 12px;
}
h2 {
  border-bottom: 1px solid var(--edge);
  padding: 8px 0 4px;
}
ul {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li {
  display: grid;
  gap: 4px 12px;
  align-items: center;
  border-bottom: 1px solid var(--line);
  padding: 8px 0;
  overflow-wrap: anywhere;
}
.outcome {
  grid-template-columns: 34px minmax(0, 1fr) auto 44px;
}
.task {
  grid-template-columns: minmax(0, 1fr) auto;
}
.value {
  text-align: right;
}
.plum {
  color: var(--plum);
}
.block {
  display: block;
}
@media (max-width: 760px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
