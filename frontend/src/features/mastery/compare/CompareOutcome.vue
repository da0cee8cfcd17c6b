<script setup lang="ts">
import { several } from '@/design/format'
import type { ComparedCellOut, MethodComparisonOut, ScaleOut } from '@/api/schema'
import ComparedCell from './ComparedCell.vue'
import EvidenceSpark from './EvidenceSpark.vue'
import { under } from './useComparison'

/** One outcome: students down, their evidence, and every method side by side. */
defineProps<{
  comparison: MethodComparisonOut
  students: MethodComparisonOut['students']
  cellOf: (studentId: number) => ComparedCellOut | undefined
  scale: ScaleOut
  /** The settings that are shown, by their place; the one that holds now; the one looked at. */
  columns: number[]
  present: number
  chosen: number
  student: number | null
}>()
const emit = defineEmits<{ choose: [setting: number]; student: [id: number] }>()
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Methods compared">
    <table>
      <thead>
        <tr>
          <th scope="col" class="name">Student</th>
          <th scope="col">Evidence in order</th>
          <th
            v-for="setting in columns"
            :key="setting"
            scope="col"
            :class="{ now: setting === present, chosen: setting === chosen }"
          >
            <button
              type="button"
              :aria-pressed="setting === chosen"
              @click="emit('choose', setting)"
            >
              {{ comparison.settings[setting]!.name }}
            </button>
            <span v-if="setting === present" class="small quiet block">holds now</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="one in students"
          :key="one.id"
          v-memo="[columns, present, chosen, student === one.id, cellOf(one.id)]"
          :class="{ open: student === one.id }"
        >
          <th scope="row" class="name">
            <button
              v-if="cellOf(one.id)"
              type="button"
              :aria-pressed="student === one.id"
              :title="`${one.name}: draw the evidence under two methods`"
              @click="emit('student', one.id)"
            >
              {{ one.name }}
            </button>
            <template v-else>{{ one.name }}</template>
          </th>
          <template v-if="cellOf(one.id)">
            <td>
              <EvidenceSpark :values="cellOf(one.id)!.evidence" :scale="scale" />
            </td>
            <td
              v-for="setting in columns"
              :key="setting"
              :class="{
                now: setting === present,
                chosen: setting === chosen,
                gains: under(cellOf(one.id)!, setting).change === 'G',
                loses: under(cellOf(one.id)!, setting).change === 'L',
              }"
            >
              <ComparedCell
                v-bind="under(cellOf(one.id)!, setting)"
                :scale="scale"
                :enough="cellOf(one.id)!.enough"
              />
            </td>
          </template>
          <td v-else :colspan="columns.length + 1" class="quiet">no evidence</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!students.length" class="quiet none">{{ several(0, 'student') }} to compare.</p>
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
  width: 100%;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
  text-align: left;
  font-size: 13px;
  padding: 6px 6px;
  vertical-align: top;
}
tbody th,
td {
  border-bottom: 1px solid var(--line);
  padding: 3px 6px;
  text-align: left;
  font-weight: 400;
  height: 34px;
  min-width: 78px;
}
.name {
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.name button {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}
button {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}
button[aria-pressed='true'] {
  font-weight: 650;
  text-decoration: underline;
}
.block {
  display: block;
  font-weight: 400;
}
.now {
  border-left: 2px solid var(--ink);
  border-right: 2px solid var(--ink);
}
.chosen {
  background: var(--sunk);
}
.gains,
.chosen.gains {
  background: var(--jade-wash);
}
.loses,
.chosen.loses {
  background: var(--slate-wash);
}
.open th {
  box-shadow: inset 3px 0 0 var(--ink);
}
.none {
  padding: 10px;
}
</style>
