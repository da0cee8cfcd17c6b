<script setup lang="ts">
import { computed, ref } from 'vue'
import { NCheckbox } from 'naive-ui'
import type { ComparedCellOut, MethodComparisonOut, ScaleOut } from '@/api/schema'
import { useInSight } from '@/features/mastery/grid/useInSight'
import CompareRow from './CompareRow.vue'

/** The whole class under one setting: students by outcomes, with what would change in each cell. */
const props = defineProps<{
  comparison: MethodComparisonOut
  students: MethodComparisonOut['students']
  cellOf: (studentId: number, outcomeId: number) => ComparedCellOut | undefined
  scales: Map<number, ScaleOut>
  /** Which setting would hold for each outcome, in their order. */
  settings: number[]
  /** Whether that is the one looked at, and not the one that the outcome keeps. */
  touched: boolean[]
}>()
/** The outcomes that a method would be applied to; none: the class. */
const ticked = defineModel<number[]>('ticked', { required: true })
const HEADER = 36
const ROW = 36
const NAME = 170
const COLUMN = 100
const rows = computed(() =>
  props.students.map((student) => ({
    student,
    cells: props.comparison.outcomes.map((outcome) => props.cellOf(student.id, outcome.id)),
  })),
)
const columns = computed(() =>
  props.comparison.outcomes.map((one) => ({
    outcomeId: one.id,
    scale: props.scales.get(one.scale_id)!,
  })),
)
const scroll = ref<HTMLElement | null>(null)
const { lines, shown, canvas } = useInSight(scroll, {
  rows,
  columns,
  keyOf: (row) => row.student.id,
  header: HEADER,
  after: 0,
  nameWidth: NAME,
  columnWidth: COLUMN,
  rowHeight: ROW,
})
function tick(id: number, on: boolean) {
  ticked.value = on ? [...ticked.value, id] : ticked.value.filter((one) => one !== id)
}
</script>

<template>
  <div
    ref="scroll"
    class="scroll"
    tabindex="0"
    role="region"
    aria-label="The class under one method"
  >
    <div
      role="table"
      aria-label="Students by outcomes"
      :aria-rowcount="rows.length + 1"
      :aria-colcount="columns.length + 1"
      class="canvas"
      :style="canvas"
    >
      <div role="row" aria-rowindex="1" class="head" :style="{ height: `${HEADER}px` }">
        <div role="columnheader" aria-colindex="1" class="corner" :style="{ width: `${NAME}px` }">
          Student
        </div>
        <div
          v-for="{ index, style } in shown"
          :key="comparison.outcomes[index]!.id"
          role="columnheader"
          class="code"
          :class="{ kept: !touched[index] }"
          :style="style"
          :aria-colindex="index + 2"
          :title="`${comparison.outcomes[index]!.title}${touched[index] ? '' : `: keeps ${comparison.settings[comparison.outcomes[index]!.present]!.name}`}`"
        >
          <NCheckbox
            size="small"
            :checked="ticked.includes(comparison.outcomes[index]!.id)"
            @update:checked="(on: boolean) => tick(comparison.outcomes[index]!.id, on)"
            >{{ comparison.outcomes[index]!.code
            }}{{ comparison.outcomes[index]!.own_method ? '*' : '' }}</NCheckbox
          >
        </div>
      </div>
      <CompareRow
        v-for="line in lines"
        :key="line.key"
        :name="line.row.student.name"
        :index="line.index"
        :top="line.top"
        :height="ROW"
        :name-width="NAME"
        :columns="shown"
        :cells="line.row.cells"
        :settings="settings"
        :touched="touched"
      />
    </div>
  </div>
</template>

<style scoped src="../grid/sheet.css"></style>
<style scoped>
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
}
.corner {
  position: sticky;
  left: 0;
  z-index: 1;
  height: 100%;
  display: flex;
  align-items: center;
  padding: 0 6px;
  background: var(--card);
}
.code {
  position: absolute;
  top: 0;
  height: 100%;
  display: flex;
  align-items: center;
  padding: 0 6px;
  overflow: hidden;
  white-space: nowrap;
}
.kept {
  background: var(--sunk);
  color: var(--ink-3);
}
</style>
