<script setup lang="ts">
import { computed } from 'vue'
import { NCheckbox } from 'naive-ui'
import type { ComparedCellOut, MethodComparisonOut, ScaleOut } from '@/api/schema'
import ComparedCell from './ComparedCell.vue'
import { under } from './useComparison'

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
const rows = computed(() =>
  props.students.map((student) => ({
    student,
    cells: props.comparison.outcomes.map((outcome, at) => {
      const cell = props.cellOf(student.id, outcome.id)
      const scale = props.scales.get(outcome.scale_id)!
      return cell ? { ...under(cell, props.settings[at]!), enough: cell.enough, scale } : null
    }),
  })),
)
function tick(id: number, on: boolean) {
  ticked.value = on ? [...ticked.value, id] : ticked.value.filter((one) => one !== id)
}
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="The class under one method">
    <table>
      <thead>
        <tr>
          <th scope="col" class="name">Student</th>
          <th
            v-for="(one, at) in comparison.outcomes"
            :key="one.id"
            scope="col"
            :title="`${one.title}${touched[at] ? '' : `: keeps ${comparison.settings[one.present]!.name}`}`"
            :class="{ kept: !touched[at] }"
          >
            <NCheckbox
              size="small"
              :checked="ticked.includes(one.id)"
              @update:checked="(on: boolean) => tick(one.id, on)"
              >{{ one.code }}{{ one.own_method ? '*' : '' }}</NCheckbox
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.student.id">
          <th scope="row" class="name">{{ row.student.name }}</th>
          <td
            v-for="(cell, at) in row.cells"
            :key="comparison.outcomes[at]!.id"
            :class="{
              gains: cell?.change === 'G',
              loses: cell?.change === 'L',
              kept: !touched[at],
            }"
          >
            <ComparedCell
              v-if="cell"
              :value="cell.value"
              :level="cell.level"
              :mastered="cell.mastered"
              :change="cell.change"
              :scale="cell.scale"
              :enough="cell.enough"
            />
            <span v-else class="quiet">–</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  border: 1px solid var(--line);
  background: var(--card);
}
table {
  border-collapse: separate;
  border-spacing: 0;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
  padding: 6px;
  text-align: left;
}
tbody th,
td {
  border-bottom: 1px solid var(--line);
  padding: 2px 6px;
  font-weight: 400;
  text-align: left;
  height: 36px;
  min-width: 68px;
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
.name {
  position: sticky;
  left: 0;
  background: var(--card);
  max-width: 170px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
thead .name {
  z-index: 2;
}
.kept {
  background: var(--sunk);
  color: var(--ink-3);
}
.gains {
  background: var(--jade-wash);
}
.loses {
  background: var(--slate-wash);
}
</style>
