<script setup lang="ts">
import { computed } from 'vue'
import type { FirstPageOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { day, several } from '@/design/format'
import { useSession } from '@/shared/session'
import FewLines from './FewLines.vue'

/** What moved and what is missing; each line leads to where something is done about it. */
const props = defineProps<{ page: FirstPageOut }>()
const { timeZone } = useSession()
const when = (at: string) => day(at, timeZone.value)

interface InClass {
  class_id: number
  class_name: string
}
const cell = (one: InClass & { student: { id: number }; outcome: { id: number } }) => ({
  name: 'mastery',
  params: { classId: one.class_id },
  query: { student: one.student.id, outcome: one.outcome.id },
})
const BY = {
  evidence: '',
  method: ' by a change of method',
  judged: ' by your judgement',
  lifted: ' when a judgement was lifted',
}
const quiet = computed(() => {
  const { judged, slipped, missing, close, thin, reached } = props.page
  return ![judged, slipped, missing, close, thin, reached].some((one) => one.length)
})
/** "Aino, Kaia and 3 more": so many that the line stays one. */
function names(students: { name: string }[]): string {
  const first = students.slice(0, 2).map((one) => one.name)
  if (students.length <= 2) return first.join(' and ')
  return `${first.join(', ')} and ${students.length - 2} more`
}
const reachedAt = (one: FirstPageOut['reached'][number]) =>
  one.students.length === 1
    ? cell({ ...one, student: one.students[0]! })
    : {
        name: 'mastery',
        params: { classId: one.class_id },
        query: { sort: `-o${one.outcome.id}` },
      }
</script>

<template>
  <section class="worth" aria-labelledby="worth">
    <h2 id="worth">Worth a look</h2>
    <p v-if="quiet" class="quiet">
      Nobody slipped or reached anything lately, and nothing is thin. As work is marked, what moved
      stands here.
    </p>
    <template v-if="page.judged.length">
      <h3>Judged by you, and the evidence changed</h3>
      <FewLines v-slot="{ shown }" :lines="page.judged" what="cell" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.student.id} ${one.outcome.id}`">
            <span
              ><b>{{ one.student.name }}</b> on {{ one.outcome.code }}
              <span class="klass small quiet">{{ one.class_name }}</span></span
            >
            <RouterLink :to="cell(one)">keep or lift</RouterLink>
          </li>
        </ul>
      </FewLines>
    </template>
    <template v-if="page.slipped.length">
      <h3><span class="clay" aria-hidden="true">▾</span> Slipped in the last two weeks</h3>
      <FewLines v-slot="{ shown }" :lines="page.slipped" what="slip" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.class_id} ${one.student.id} ${one.outcome.id}`">
            <span class="with-ladder"
              ><Ladder
                :level="one.level"
                :levels="one.levels"
                :mastery-level="one.mastery_level"
                :size="18"
              /><span
                ><b>{{ one.student.name }}</b> on {{ one.outcome.code }} {{ one.outcome.title
                }}{{ BY[one.by] }} <span class="klass small quiet">{{ one.class_name }}</span></span
              ></span
            >
            <RouterLink :to="cell(one)" :aria-label="`See the evidence, ${when(one.at)}`">{{
              when(one.at)
            }}</RouterLink>
          </li>
        </ul>
      </FewLines>
    </template>
    <template v-if="page.missing.length">
      <h3>Missing again</h3>
      <FewLines v-slot="{ shown }" :lines="page.missing" what="student" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.class_id} ${one.student.id}`">
            <span
              ><RouterLink
                :to="{
                  name: 'student',
                  params: { classId: one.class_id, studentId: one.student.id },
                }"
                ><b>{{ one.student.name }}</b></RouterLink
              >: {{ one.missing }} of the last {{ several(one.of, 'task') }}, now {{ one.task }}
              <span class="klass small quiet">{{ one.class_name }}</span></span
            >
            <RouterLink
              :to="{
                name: 'task',
                params: { classId: one.class_id, taskId: one.task_id },
                query: { open: 'message' },
              }"
              >remind</RouterLink
            >
          </li>
        </ul>
      </FewLines>
    </template>
    <template v-if="page.close.length">
      <h3>Just below mastery</h3>
      <FewLines v-slot="{ shown }" :lines="page.close" what="outcome" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.class_id} ${one.outcome.id}`">
            <span
              ><b>{{ one.students }} of {{ several(one.of, 'student') }}</b> on
              {{ one.outcome.code }} {{ one.outcome.title }}
              <span class="klass small quiet">{{ one.class_name }}</span></span
            >
            <RouterLink
              :to="{
                name: 'mastery',
                params: { classId: one.class_id },
                query: { sign: 'close', on: one.outcome.id, sort: `-o${one.outcome.id}` },
              }"
              >who</RouterLink
            >
          </li>
        </ul>
      </FewLines>
    </template>
    <template v-if="page.thin.length">
      <h3>Too little evidence to say much</h3>
      <FewLines v-slot="{ shown }" :lines="page.thin" what="outcome" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.class_id} ${one.outcome.id}`">
            <span
              ><b>{{ one.outcome.code }}</b> {{ one.outcome.title }}: thin for {{ one.students
              }}<template v-if="one.without">, none for {{ one.without }}</template> of
              {{ several(one.of, 'student') }}
              <span class="klass small quiet">{{ one.class_name }}</span></span
            >
            <RouterLink
              :to="{
                name: 'outcome',
                params: { classId: one.class_id, outcomeId: one.outcome.id },
              }"
              >where it is assessed</RouterLink
            >
          </li>
        </ul>
      </FewLines>
    </template>
    <template v-if="page.reached.length">
      <h3><span class="jade" aria-hidden="true">✓</span> Reached in the last seven days</h3>
      <FewLines v-slot="{ shown }" :lines="page.reached" what="outcome" :most="4">
        <ul>
          <li v-for="one in shown" :key="`${one.class_id} ${one.outcome.id}`">
            <span
              ><b>{{ names(one.students) }}</b
              >: {{ one.outcome.code }} {{ one.outcome.title }}
              <span class="klass small quiet">{{ one.class_name }}</span></span
            >
            <RouterLink :to="reachedAt(one)" :aria-label="`See it, ${when(one.at)}`">{{
              when(one.at)
            }}</RouterLink>
          </li>
        </ul>
      </FewLines>
    </template>
  </section>
</template>

<style scoped>
h2 {
  padding-bottom: 4px;
  border-bottom: 1px solid var(--edge);
}
h3 {
  margin: 12px 0 0;
  font-size: 14px;
  color: var(--ink-2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 14px;
  justify-content: space-between;
  align-items: baseline;
  border-bottom: 1px solid var(--line);
  padding: 7px 0;
}
li > a {
  white-space: nowrap;
}
.klass {
  display: inline-block;
  margin-left: 4px;
}
.with-ladder {
  display: flex;
  gap: 9px;
  align-items: baseline;
}
.jade {
  color: var(--jade-deep);
}
</style>
