<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useKeys } from '@/app/keys'
import { useSession } from '@/app/session'
import ClassLadder from '@/design/ClassLadder.vue'
import EmptyState from '@/design/EmptyState.vue'
import QueryState from '@/design/QueryState.vue'
import { longDay, today } from '@/design/format'
import EvidenceTrail from './EvidenceTrail.vue'
import WallCell from './WallCell.vue'
import { useWall, type Cell } from './useWall'

const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const { timeZone } = useSession()
const now = computed(() => today(timeZone.value))
const asOf = ref(typeof route.query.as_of === 'string' ? route.query.as_of : '')
/** What the date field shows: today unless another day is asked for. */
const shownDay = computed({
  get: () => asOf.value || now.value,
  set: (day: string) => (asOf.value = day === now.value ? '' : day),
})
const { data, rows, scaleOf, spans, error, isPending, refetch } = useWall(() => props.classId, asOf)
const grid = ref<HTMLElement | null>(null)

const at = computed(() => {
  const student = Number(route.query.student)
  const row = rows.value.findIndex((one) => one.student.id === student)
  if (row < 0) return null
  const column =
    data.value?.outcomes.findIndex((one) => one.id === Number(route.query.outcome)) ?? -1
  return { row, column: Math.max(0, column) }
})
const chosen = computed(() => {
  const student = at.value && rows.value[at.value.row]?.student
  const outcome = at.value && data.value?.outcomes[at.value.column]
  return student && outcome ? { student, outcome } : null
})
const masteryCuts = computed(() => [
  ...new Set([...scaleOf.value.values()].map((one) => one.mastery_cut)),
])

function choose(row: number, column: number) {
  const student = rows.value[row]?.student
  const outcome = data.value?.outcomes[column]
  if (!student || !outcome) return
  void router.replace({ query: { ...route.query, student: student.id, outcome: outcome.id } })
}

function close() {
  void router.replace({ query: { ...route.query, student: undefined, outcome: undefined } })
}

function move(rowBy: number, columnBy: number): boolean {
  if (!rows.value.length || !data.value?.outcomes.length) return false
  const from = at.value ?? { row: 0, column: 0 }
  const row = at.value ? clamp(from.row + rowBy, rows.value.length) : 0
  const column = at.value ? clamp(from.column + columnBy, data.value.outcomes.length) : 0
  choose(row, column)
  void nextTick(() => cellElement(row, column)?.focus())
  return true
}

function clamp(value: number, count: number): number {
  return Math.max(0, Math.min(count - 1, value))
}

function cellElement(row: number, column: number): HTMLElement | null {
  return grid.value?.querySelector(`[data-at="${row} ${column}"]`) ?? null
}

function startsStrand(column: number): boolean {
  let start = 0
  for (const span of spans.value) {
    if (start === column) return true
    start += span.count
  }
  return false
}

/** One cell of the grid can be tabbed to: the chosen one, or the first. */
function tabIndex(row: number, column: number): 0 | -1 {
  const here = at.value ?? { row: 0, column: 0 }
  return row === here.row && column === here.column ? 0 : -1
}

function columnLabel(column: number): string {
  const outcome = data.value!.outcomes[column]!
  const scale = scaleOf.value.get(outcome.scale_id)
  const levels = outcome.at_level.map((count, level) => `${count} at ${scale?.levels[level]?.name}`)
  return `${outcome.mastered} of ${outcome.counted} mastered: ${levels.join(', ')}; ${outcome.needing} need evidence, ${outcome.without} without`
}

function scaleAt(column: number) {
  return scaleOf.value.get(data.value!.outcomes[column]!.scale_id)!
}

function cellKey(cell: Cell): string {
  return `${cell.state} ${cell.value} ${cell.direction} ${cell.slipped}`
}

watch(asOf, (day) => router.replace({ query: { ...route.query, as_of: day || undefined } }))

useKeys('Mastery wall', [
  { keys: ['ArrowLeft'], does: 'Outcome before', run: () => move(0, -1) },
  { keys: ['ArrowRight'], does: 'Next outcome', run: () => move(0, 1) },
  { keys: ['ArrowUp'], does: 'Student before', run: () => move(-1, 0) },
  { keys: ['ArrowDown'], does: 'Next student', run: () => move(1, 0) },
  {
    keys: ['Escape'],
    does: 'Close the evidence trail',
    run: () => (chosen.value ? close() : false),
  },
])
</script>

<template>
  <div class="wall-page" :class="{ open: chosen }">
    <div class="page wall">
      <div class="page-head">
        <h1>Mastery wall</h1>
        <template v-if="data">
          <RouterLink
            class="tag"
            :to="{ name: 'outcomes', params: { classId } }"
            title="Change the method"
            >{{ data.method.name }}</RouterLink
          >
          <span v-for="cut in masteryCuts" :key="cut" class="tag">Mastery from {{ cut }}</span>
        </template>
        <div class="actions">
          <label class="row small as-of"
            >As of
            <input v-model="shownDay" class="input" type="date" :max="now" aria-label="As of" />
          </label>
          <button v-if="asOf" class="btn bare" type="button" @click="asOf = ''">Today</button>
        </div>
      </div>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <template v-if="data && !error">
        <EmptyState v-if="!data.outcomes.length" title="No outcomes to read mastery of">
          The wall shows students down the side and outcomes across.
          <template #steps
            ><RouterLink class="btn main" :to="{ name: 'outcomes', params: { classId } }"
              >Write the outcomes</RouterLink
            ></template
          >
        </EmptyState>
        <EmptyState
          v-else-if="!data.students.length"
          :title="
            asOf ? `Nobody was in the class on ${longDay(asOf)}` : 'Nobody is in the class yet'
          "
        >
          The wall shows students down the side and outcomes across.
          <template #steps
            ><RouterLink class="btn main" :to="{ name: 'students', params: { classId } }"
              >See the class list</RouterLink
            ></template
          >
        </EmptyState>
        <div v-else ref="grid" class="scroll">
          <table
            role="grid"
            aria-label="Mastery wall"
            :aria-rowcount="rows.length + 2"
            :aria-colcount="data.outcomes.length + 2"
          >
            <thead>
              <tr class="strands" aria-rowindex="1">
                <td class="corner name-column"></td>
                <th
                  v-for="(span, index) in spans"
                  :key="index"
                  :colspan="span.count"
                  scope="colgroup"
                >
                  {{ span.title }}
                </th>
                <td></td>
              </tr>
              <tr class="codes" aria-rowindex="2">
                <th class="corner name-column" scope="col">Student</th>
                <th
                  v-for="(outcome, column) in data.outcomes"
                  :key="outcome.id"
                  scope="col"
                  :class="{ start: startsStrand(column) }"
                  :title="outcome.title"
                >
                  {{ outcome.code
                  }}<span
                    v-if="outcome.own_method"
                    class="own"
                    :title="outcome.method.name"
                    :aria-label="`, by ${outcome.method.name}`"
                    >*</span
                  >
                  <ClassLadder
                    :at-level="outcome.at_level"
                    :mastery="scaleAt(column).mastery"
                    :label="columnLabel(column)"
                  />
                  <span class="of" aria-hidden="true"
                    >{{ outcome.mastered }} of {{ outcome.counted }}</span
                  >
                </th>
                <th class="start" scope="col">Mastered</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, index) in rows" :key="row.student.id" :aria-rowindex="index + 3">
                <th class="name-column" scope="row">{{ row.student.name }}</th>
                <WallCell
                  v-for="(cell, column) in row.cells"
                  :key="`${column} ${cellKey(cell)}`"
                  :cell="cell"
                  :scale="scaleAt(column)"
                  :start="startsStrand(column)"
                  :selected="at?.row === index && at?.column === column"
                  :tabindex="tabIndex(index, column)"
                  :data-at="`${index} ${column}`"
                  @click="choose(index, column)"
                  @keydown.enter.prevent="choose(index, column)"
                  @keydown.space.prevent="choose(index, column)"
                />
                <td class="start count">{{ row.student.mastered }} of {{ row.student.of }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="data.students.length && data.outcomes.length" class="small quiet legend">
          – no evidence · dashed: needs more evidence · ↗ ↘ against the point before ·
          <span class="clay">▾ slipped</span> below mastery<template
            v-if="data.outcomes.some((one) => one.own_method)"
          >
            · * a method of its own</template
          >
        </p>
      </template>
    </div>
    <aside v-if="chosen" class="side" aria-label="Evidence trail">
      <EvidenceTrail
        :key="`${chosen.student.id} ${chosen.outcome.id} ${asOf}`"
        :class-id="classId"
        :student-id="chosen.student.id"
        :outcome-id="chosen.outcome.id"
        :as-of="asOf"
        @close="close"
      />
    </aside>
  </div>
</template>

<style scoped>
.wall-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  height: calc(100vh - 57px);
}
.wall-page.open {
  grid-template-columns: minmax(0, 1fr) 344px;
}
.wall {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding-bottom: 8px;
}
.side {
  overflow: auto;
}
a.tag {
  text-decoration: none;
}
a.tag:hover {
  text-decoration: underline;
}
.as-of {
  gap: 6px;
}
.as-of .input {
  width: 150px;
}
.scroll {
  overflow: auto;
  min-height: 0;
  border: 1px solid var(--line);
  background: var(--card);
  scroll-padding: 96px 10px 10px 150px;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  width: 100%;
}
thead {
  position: sticky;
  top: 0;
  z-index: 2;
}
thead th,
thead td {
  background: var(--card);
  font-size: 12px;
  color: var(--ink-2);
  font-weight: 600;
  padding: 4px;
}
.strands th {
  text-align: left;
  font: 560 13px var(--head);
  color: var(--ink);
  border-left: 1px solid var(--line);
  white-space: nowrap;
}
.codes th {
  border-bottom: 1px solid var(--edge);
  text-align: center;
  vertical-align: bottom;
  min-width: 54px;
}
.codes .name-column {
  text-align: left;
}
.of {
  font-weight: 400;
  color: var(--ink-3);
  font-size: 11px;
  white-space: nowrap;
}
.own {
  color: var(--ink-3);
}
.name-column {
  position: sticky;
  left: 0;
  background: var(--card);
  z-index: 1;
  text-align: left;
  font-weight: 400;
  padding: 0 10px;
  white-space: nowrap;
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
}
tbody th {
  border-bottom: 1px solid var(--line);
}
.start {
  border-left: 1px solid var(--line);
}
.count {
  color: var(--ink-2);
  padding: 0 8px;
  text-align: center;
  white-space: nowrap;
  border-bottom: 1px solid var(--line);
}
.legend {
  padding-top: 6px;
}
@media (max-width: 900px) {
  .wall-page,
  .wall-page.open {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
  .scroll {
    max-height: 70vh;
  }
  .name-column {
    max-width: 120px;
  }
}
</style>
