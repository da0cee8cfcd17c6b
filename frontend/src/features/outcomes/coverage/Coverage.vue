<script setup lang="ts">
import HandOut from '@/shared/HandOut.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import type { OutcomeCoverageOut } from '@/api/schema'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { day, several } from '@/design/format'
import ThinForm from './ThinForm.vue'
import { usePageTitle } from '@/shared/pageTitle'

/** Outcomes against tasks over the term: what is assessed how often and when next, what never. */
const props = defineProps<{ classId: number }>()
const { timeZone, data: session } = useSession()
const administrator = computed(() => session.value?.person?.administrator)
const changing = ref(false)
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.coverage(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/coverage', {
        params: { path: { class_id: props.classId } },
      }),
    ),
})
const cells = computed(
  () => new Map(data.value?.cells.map((cell) => [`${cell.outcome_id} ${cell.task_id}`, cell])),
)
const tasks = computed(() => new Map(data.value?.tasks.map((task) => [task.id, task])))
const never = computed(() => data.value?.outcomes.filter((one) => !one.tasks).length ?? 0)
const strandOf = computed(() => new Map(data.value?.strands.map((one) => [one.id, one.title])))
const rows = computed(() =>
  (data.value?.outcomes ?? []).map((outcome, index, all) => ({
    outcome,
    strand:
      index === 0 || all[index - 1]!.strand_id !== outcome.strand_id
        ? (strandOf.value.get(outcome.strand_id ?? 0) ?? 'In no strand')
        : null,
    cells: data.value!.tasks.map((task) => cells.value.get(`${outcome.id} ${task.id}`) ?? null),
  })),
)

function next(outcome: OutcomeCoverageOut): string {
  const task = tasks.value.get(outcome.next_task_id ?? 0)
  return task ? `${day(task.day, timeZone.value)}` : 'nothing set'
}

const words = (criteria: number, students: number) =>
  `${several(criteria, 'criterion', 'criteria')}, ${students ? `evidence for ${several(students, 'student')}` : 'no evidence yet'}`
usePageTitle('What is assessed when')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>What is assessed when</h1>
      <Tag v-if="never" tone="clay">{{ several(never, 'outcome') }} never assessed</Tag>
      <div class="actions">
        <HandOut what="coverage" :class-id="classId" />
        <LinkButton bare :to="{ name: 'outcomes', params: { classId } }"
          >Back to outcomes</LinkButton
        >
      </div>
    </div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-if="data && !data.outcomes.length" title="No outcomes yet">
      Here each outcome stands against the tasks that assess it.
      <template #steps
        ><LinkButton main :to="{ name: 'outcomes', params: { classId } }"
          >Write outcomes</LinkButton
        ></template
      >
    </EmptyState>
    <template v-else-if="data">
      <p class="small quiet legend">
        <span class="mark"><i /></span> one criterion with evidence ·
        <span class="mark coming"><i /></span> aligned, no evidence yet · Thin: students with some
        evidence, from fewer than {{ data.thin_below }} tasks; none: without any
        <NButton v-if="administrator" class="link" text @click="changing = !changing">
          Change for the school</NButton
        >. Practice is not counted.
      </p>
      <ThinForm
        v-if="changing"
        :thin="data.thin_below"
        @done="((changing = false), refetch())"
        @cancel="changing = false"
      />
      <div class="table-scroll" tabindex="0" role="region" aria-label="Outcomes against tasks">
        <table>
          <thead>
            <tr>
              <th scope="col" class="first">Outcome</th>
              <th v-for="task in data.tasks" :key="task.id" scope="col" class="task">
                <RouterLink :to="{ name: 'task', params: { classId, taskId: task.id } }">{{
                  task.title
                }}</RouterLink>
                <span class="quiet"
                  >{{ day(task.day, timeZone)
                  }}<template v-if="task.practice">, practice</template></span
                >
              </th>
              <th scope="col" class="sum">Tasks</th>
              <th scope="col" class="sum">Next</th>
              <th scope="col" class="sum">Thin</th>
              <th scope="col" class="sum">None</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="row in rows" :key="row.outcome.id">
              <tr v-if="row.strand" class="strand">
                <th scope="rowgroup" :colspan="data.tasks.length + 5">
                  <h2>{{ row.strand }}</h2>
                </th>
              </tr>
              <tr>
                <th scope="row" class="first">
                  <RouterLink
                    :to="{ name: 'outcome', params: { classId, outcomeId: row.outcome.id } }"
                    ><b>{{ row.outcome.code }}</b></RouterLink
                  >
                  {{ row.outcome.title }}
                </th>
                <td
                  v-for="(cell, index) in row.cells"
                  :key="data.tasks[index]!.id"
                  :class="{ none: !cell }"
                >
                  <span
                    v-if="cell"
                    class="mark"
                    :class="{ coming: !cell.students }"
                    :title="words(cell.criteria, cell.students)"
                  >
                    <i v-for="n in Math.min(cell.criteria, 4)" :key="n" />
                    <span class="visually-hidden">{{ words(cell.criteria, cell.students) }}</span>
                  </span>
                </td>
                <td class="sum">
                  <span v-if="row.outcome.tasks">{{ row.outcome.tasks }}</span>
                  <Tag v-else tone="clay">never</Tag>
                </td>
                <td class="sum">{{ next(row.outcome) }}</td>
                <td class="sum">
                  <span v-if="row.outcome.thin" :class="{ clay: row.outcome.tasks }"
                    >{{ row.outcome.thin }} of {{ row.outcome.students }}</span
                  >
                  <span v-else class="quiet">nobody</span>
                </td>
                <td class="sum">
                  <span v-if="row.outcome.without" :class="{ clay: row.outcome.tasks }"
                    >{{ row.outcome.without }} of {{ row.outcome.students }}</span
                  >
                  <span v-else class="quiet">nobody</span>
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
table {
  border-collapse: collapse;
  background: var(--card);
  border: 1px solid var(--line);
  min-width: 100%;
}
th,
td {
  border-top: 1px solid var(--line);
  padding: 7px 8px;
  text-align: center;
  font-weight: 400;
}
thead th {
  vertical-align: bottom;
  font-size: 12px;
  border-bottom: 1px solid var(--edge);
}
.first {
  text-align: left;
  min-width: 210px;
  position: sticky;
  left: 0;
  background: var(--card);
  border-right: 1px solid var(--line);
}
thead .first {
  color: var(--ink-2);
}
.task {
  min-width: 84px;
  max-width: 120px;
}
.task span {
  display: block;
  margin-top: 2px;
}
.task a {
  overflow-wrap: anywhere;
}
.sum {
  white-space: nowrap;
  color: var(--ink-2);
  font-size: 13px;
}
td.sum:first-of-type {
  border-left: 1px solid var(--line);
}
.strand th {
  text-align: left;
  padding: 10px 8px 6px;
  background: var(--paper);
}
.strand h2 {
  font-size: 14.5px;
}
.mark {
  display: inline-flex;
  gap: 3px;
  vertical-align: middle;
}
.mark i {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  background: var(--ink);
  border: 2px solid var(--ink);
}
.mark.coming i {
  background: transparent;
}
.legend {
  margin-bottom: 8px;
}
</style>
