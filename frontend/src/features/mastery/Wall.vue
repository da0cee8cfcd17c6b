<script setup lang="ts">
import SidePanel from '@/design/controls/SidePanel.vue'
import DateField from '@/design/controls/DateField.vue'
import Tag from '@/design/controls/Tag.vue'
import Menu from '@/design/controls/Menu.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent, nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { useNobody } from '@/shared/classes'
import HandOut from '@/shared/HandOut.vue'
import { exportEntries } from '@/shared/exports'
import { isLost } from '@/design/focus'
import { longDay, today } from '@/design/format'
import WallGrid from './grid/WallGrid.vue'
import { useMoves } from './grid/useMoves'
import WallTools from './WallTools.vue'
import { useWall, useWallView } from './useWall'
import { paperPart, type OutcomeColumn } from './wall'
import { usePageTitle } from '@/shared/pageTitle'

// What is not needed to read the wall comes after it; the trail before it is asked for.
const loadTrail = () => import('./trail/EvidenceTrail.vue')
onMounted(() => setTimeout(() => void loadTrail().catch(() => undefined), 1000))
const EvidenceTrail = defineAsyncComponent(loadTrail)
const TimeSlider = defineAsyncComponent(() => import('./TimeSlider.vue'))
const JudgeSeveral = defineAsyncComponent(() => import('./judging/JudgeSeveral.vue'))

const props = defineProps<{ classId: number }>()
const nobody = useNobody(() => props.classId)
const route = useRoute()
const router = useRouter()
const { timeZone } = useSession()
const now = computed(() => today(timeZone.value))
const asOf = computed({
  get: () => (typeof route.query.as_of === 'string' ? route.query.as_of : ''),
  set: (day) => void router.replace({ query: { ...route.query, as_of: day || undefined } }),
})
/** What the date field shows: today unless another day is asked for. */
const shownDay = computed({
  get: () => asOf.value || now.value,
  set: (day: string) => (asOf.value = day === now.value ? '' : day),
})
const { view, change } = useWallView()
const { data, all, rows, columns, error, isPending, refetch } = useWall(
  () => props.classId,
  asOf,
  view,
)
const titles = computed(() => new Map(data.value?.strands.map((one) => [one.id, one.title])))
const grid = ref<InstanceType<typeof WallGrid> | null>(null)

/** The cell that the address names, among those that are shown. */
const at = computed(() => {
  const student = Number(route.query.student)
  const row = rows.value.findIndex((one) => one.student.id === student)
  const outcome = Number(route.query.outcome)
  const column = columns.value.findIndex((one) => one.outcome?.id === outcome)
  return row < 0 || column < 0 ? null : { row, column }
})
/** Whose trail is open, also where a filter hides the row. */
const chosen = computed(() => {
  const student = all.value.find((one) => one.student.id === Number(route.query.student))?.student
  const outcome = data.value?.outcomes.find((one) => one.id === Number(route.query.outcome))
  return student && outcome ? { student, outcome } : null
})
const compareQuery = computed(() => {
  const { outcome, student } = route.query
  return { outcome, student }
})
const judgedColumn = computed(() =>
  columns.value.find((one): one is OutcomeColumn => one.outcome?.id === chosen.value?.outcome.id),
)
/** What is printed is what is shown: all of it where nothing is said. */
const onPaper = computed(() =>
  data.value ? paperPart(data.value, rows.value, columns.value, view.value, asOf.value) : {},
)
const masteryCuts = computed(() => [
  ...new Set(data.value?.scales.map((one) => one.mastery_cut) ?? []),
])

/** Choose a cell, whose trail opens; a folded strand has none. */
function choose(row: number, column: number): boolean {
  const student = rows.value[row]?.student
  const outcome = columns.value[column]?.outcome
  if (!student || !outcome) return false
  void router.replace({ query: { ...route.query, student: student.id, outcome: outcome.id } })
  return true
}

/** Several students are judged on the outcome beside the wall. */
const judging = ref(false)

async function close() {
  judging.value = false
  const before = at.value
  await router.replace({ query: { ...route.query, student: undefined, outcome: undefined } })
  await nextTick()
  if (before && isLost()) void grid.value?.focus(before.row, before.column)
}

useMoves(
  at,
  () => ({ rows: rows.value.length, columns: columns.value.length }),
  {
    choose,
    focus: (row, column) => grid.value?.focus(row, column),
    focused: () => grid.value?.focused(),
  },
  () => (chosen.value ? void close() : false),
)
function sort(by: string) {
  // Names begin at their beginning, values with the lowest: who needs something stands on top.
  change({ sort: view.value.sort === by ? `-${by}` : by })
}
function fold(strandId: number) {
  const { folded } = view.value
  const open = folded.filter((one) => one !== strandId)
  change({ folded: open.length < folded.length ? open : [...folded, strandId] })
}

usePageTitle('Mastery wall')
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
          <Tag v-for="cut in masteryCuts" :key="cut">Mastery from {{ cut }}</Tag>
        </template>
        <div class="actions">
          <LinkButton bare :to="{ name: 'class-over-term', params: { classId } }"
            >Over the term</LinkButton
          >
          <LinkButton bare :to="{ name: 'compare', params: { classId }, query: compareQuery }"
            >Compare methods</LinkButton
          >
          <NButton v-if="asOf" quaternary @click="asOf = ''">Today</NButton>
          <HandOut what="mastery" :class-id="classId" :part="onPaper" />
          <Menu label="Export the class" text="Export" :items="exportEntries({ classId, asOf })" />
        </div>
      </div>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <template v-if="data && !error">
        <EmptyState v-if="!data.outcomes.length" title="No outcomes to read mastery of">
          The wall shows students down the side and outcomes across.
          <template #steps
            ><LinkButton main :to="{ name: 'outcomes', params: { classId } }"
              >Write the outcomes</LinkButton
            ></template
          >
        </EmptyState>
        <EmptyState
          v-else-if="!data.students.length"
          :title="asOf ? `Nobody was in the class on ${longDay(asOf)}` : nobody.why.value"
        >
          The wall shows students down the side and outcomes across.
          <template #steps
            ><LinkButton main :to="{ name: 'students', params: { classId } }"
              >See the class list</LinkButton
            ></template
          >
        </EmptyState>
        <template v-else>
          <div class="row tool-row">
            <WallTools :wall="data" :rows="all" :columns="columns" :view="view" @change="change" />
            <div class="times">
              <DateField v-model="shownDay" class="as-of" label="As of" :max="now" beside />
              <TimeSlider v-model="asOf" :first="data.first_day" :now="now" />
            </div>
          </div>
          <EmptyState v-if="!rows.length" title="Nobody matches">
            {{ view.name ? `No name has “${view.name}” in it` : 'No cell that is shown is this' }}.
            <template #steps
              ><NButton @click="change({ sign: '', name: '', strand: null })"
                >Show every student</NButton
              ></template
            >
          </EmptyState>
          <EmptyState v-else-if="!columns.length" title="Every column is hidden">
            <template #steps
              ><NButton @click="change({ hidden: [], strand: null })"
                >Show all columns</NButton
              ></template
            >
          </EmptyState>
          <WallGrid
            v-else
            ref="grid"
            :rows="rows"
            :columns="columns"
            :titles="titles"
            :view="view"
            :at="at"
            :roll-up="data.strand_roll_up"
            @choose="choose"
            @sort="sort"
            @fold="fold"
          />
        </template>
        <p v-if="data.students.length && data.outcomes.length" class="small quiet legend">
          – no evidence · dashed: needs more evidence · ↗ ↘ against the point before ·
          <span class="clay">▾ slipped</span> below mastery<template
            v-if="data.outcomes.some((one) => one.own_method)"
          >
            · * a method of its own:
            {{
              data.outcomes
                .filter((one) => one.own_method)
                .map((one) => `${one.code} ${one.method.name}`)
                .join(', ')
            }}</template
          ><template v-if="data.judged.length">
            · <span class="plum">●</span> judged by the teacher<template
              v-if="data.judged.some((one) => one.evidence_changed)"
              >, <span class="clay">!</span> the evidence changed since</template
            ></template
          ><template v-if="data.expected.includes(false)"> · n.e. not expected</template>
        </p>
      </template>
    </div>
    <SidePanel
      v-if="chosen"
      :key="judging ? 'several' : 'trail'"
      label="Evidence trail"
      open
      @close="close"
    >
      <JudgeSeveral
        v-if="judging && judgedColumn"
        :class-id="classId"
        :rows="all"
        :column="judgedColumn"
        @close="judging = false"
      />
      <EvidenceTrail
        v-else
        :key="`${chosen.student.id} ${chosen.outcome.id} ${asOf}`"
        :class-id="classId"
        :student-id="chosen.student.id"
        :outcome-id="chosen.outcome.id"
        :as-of="asOf"
        @several="judging = true"
        @close="close"
      />
    </SidePanel>
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
.as-of :deep(.quiet) {
  display: none;
}
.times {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-left: auto;
  /* The line of days comes after the wall, which is not to move for it. */
  min-height: 40px;
}
.tool-row {
  align-items: flex-start;
  flex-wrap: wrap;
}
.legend {
  padding-top: 6px;
}
.plum {
  color: var(--plum);
}
@media (max-width: 900px) {
  .times {
    margin: 0 0 8px;
  }
  .wall-page,
  .wall-page.open {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
}
</style>
