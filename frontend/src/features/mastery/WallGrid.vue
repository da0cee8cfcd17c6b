<script setup lang="ts">
import { ref } from 'vue'
import type { ScaleOut } from '@/api/schema'
import ClassLadder from '@/design/ClassLadder.vue'
import WallCell from './WallCell.vue'
import type { Cell, WallColumn, WallRow } from './useWall'

/** Students down, outcomes across under their strands; header and names stay put. */
const props = defineProps<{
  rows: WallRow[]
  columns: WallColumn[]
  spans: { title: string; count: number }[]
  at: { row: number; column: number } | null
}>()
const emit = defineEmits<{ choose: [row: number, column: number] }>()
const grid = ref<HTMLElement | null>(null)

/** Bring the keyboard to a cell. */
function focus(row: number, column: number) {
  grid.value?.querySelector<HTMLElement>(`[data-at="${row} ${column}"]`)?.focus()
}
/** Whether the keyboard is at a cell. */
const focused = () => !!grid.value?.querySelector('[data-at]:focus')
defineExpose({ focus, focused })

/** One cell of the grid can be tabbed to: the chosen one, or the first. */
function tabIndex(row: number, column: number): 0 | -1 {
  const here = props.at ?? { row: 0, column: 0 }
  return row === here.row && column === here.column ? 0 : -1
}

function columnLabel(outcome: WallColumn['outcome'], scale: ScaleOut): string {
  const levels = outcome.at_level.map((count, level) => `${count} at ${scale.levels[level]?.name}`)
  return `${outcome.mastered} of ${outcome.counted} mastered: ${levels.join(', ')}; ${outcome.needing} need evidence, ${outcome.without} without`
}

function cellKey(cell: Cell): string {
  return `${cell.state} ${cell.value} ${cell.direction} ${cell.slipped} ${cell.judged?.evidence_changed}`
}
</script>

<template>
  <div ref="grid" class="scroll">
    <table
      role="grid"
      aria-label="Mastery wall"
      :aria-rowcount="rows.length + 2"
      :aria-colcount="columns.length + 2"
    >
      <thead>
        <tr class="strands" aria-rowindex="1">
          <td class="corner name-column"></td>
          <th v-for="(span, index) in spans" :key="index" :colspan="span.count" scope="colgroup">
            {{ span.title }}
          </th>
          <td></td>
        </tr>
        <tr class="codes" aria-rowindex="2">
          <th class="corner name-column" scope="col">Student</th>
          <th
            v-for="{ outcome, scale, starts } in columns"
            :key="outcome.id"
            scope="col"
            :class="{ start: starts }"
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
              :mastery-level="scale.mastery_level"
              :label="columnLabel(outcome, scale)"
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
            :scale="columns[column]!.scale"
            :start="columns[column]!.starts"
            :selected="at?.row === index && at?.column === column"
            :tabindex="tabIndex(index, column)"
            :data-at="`${index} ${column}`"
            @click="emit('choose', index, column)"
            @keydown.enter.prevent="emit('choose', index, column)"
            @keydown.space.prevent="emit('choose', index, column)"
          />
          <td class="start count">{{ row.student.mastered }} of {{ row.student.of }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
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
@media (max-width: 900px) {
  .scroll {
    max-height: 70vh;
  }
  .name-column {
    max-width: 120px;
  }
}
</style>
