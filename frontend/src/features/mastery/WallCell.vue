<script setup lang="ts">
import { computed } from 'vue'
import type { ScaleOut } from '@/api/schema'
import { several } from '@/design/format'
import { ladderRungs } from '@/design/rungs'
import { ladderWords, tight, type Cell } from './useWall'

/** One student and outcome: a ladder and a number, or a dash for no evidence. */
const props = defineProps<{ cell: Cell; scale: ScaleOut; start: boolean; selected: boolean }>()
const many = computed(() => props.scale.levels.length > 4)
const background = computed(() => ({
  background: ladderRungs({
    level: props.cell.level,
    levels: props.scale.levels.length,
    masteryLevel: props.scale.mastery_level,
    size: 15,
    uncertain: props.cell.state === 'needs-evidence',
  }),
}))
const words = computed(() => {
  const { cell } = props
  if (!cell.expected) return 'not expected'
  const aside = cell.aside ? [`${several(cell.aside, 'piece')} set aside`] : []
  if (cell.state === 'no-evidence') return ['no evidence', ...aside].join(', ')
  const parts = [cell.value, ladderWords(cell, props.scale)]
  if (cell.direction !== 'level') parts.push(cell.direction)
  if (cell.slipped) parts.push('slipped')
  if (cell.judged) {
    parts.push(`judged by the teacher, calculated ${cell.judged.calculated ?? 'nothing'}`)
    if (cell.judged.evidence_changed) parts.push('the evidence changed since')
  }
  return [...parts, ...aside].join(', ')
})
const ARROWS = { up: '↗', down: '↘', level: '' }
</script>

<template>
  <td
    role="gridcell"
    :class="{
      start,
      selected,
      none: cell.value === null,
      lifted: !cell.expected,
      judged: cell.judged,
    }"
    :aria-selected="selected"
    :aria-label="words"
  >
    <span v-if="!cell.expected" title="Not expected of this student">n.e.</span>
    <span
      v-else-if="cell.value !== null"
      class="cell"
      :class="{ few: cell.state === 'needs-evidence' }"
    >
      <span v-if="many" class="number" :class="{ mastered: cell.state === 'mastered' }"
        >{{ (cell.level ?? 0) + 1 }}{{ cell.state === 'mastered' ? '✓' : '' }}</span
      >
      <span v-else class="ladder" :style="background" />
      <span>{{ tight(cell.value, scale) }}</span>
      <span
        v-if="cell.judged"
        class="sign"
        :class="cell.judged.evidence_changed ? 'clay' : 'plum'"
        :title="`Judged; calculated: ${cell.judged.calculated ?? 'no evidence'}${cell.judged.evidence_changed ? '. The evidence changed since' : ''}`"
        >{{ cell.judged.evidence_changed ? '!' : '●' }}</span
      >
      <span v-else-if="cell.slipped" class="sign clay">▾</span>
      <span v-else class="sign">{{ ARROWS[cell.direction] }}</span>
    </span>
    <span v-else>–</span>
    <span v-if="cell.aside && cell.expected" class="aside" title="Evidence is set aside">✕</span>
  </td>
</template>

<style scoped>
td {
  border-bottom: 1px solid var(--line);
  height: 32px;
  min-width: 54px;
  padding: 0 1px;
  text-align: center;
  vertical-align: middle;
  cursor: pointer;
}
td.start {
  border-left: 1px solid var(--line);
}
td:hover {
  background: var(--paper);
}
td.selected {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
td:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -4px;
}
.none {
  color: var(--ink-3);
}
.judged {
  background: var(--plum-wash);
}
.sign.plum {
  color: var(--plum);
}
.lifted {
  color: var(--plum);
  background: var(--plum-wash);
}
.cell {
  display: flex;
  justify-content: center;
  gap: 2px;
  align-items: center;
  font-size: 12px;
}
.few {
  color: var(--ink-3);
}
.ladder {
  width: 15px;
  height: 15px;
  flex: none;
  print-color-adjust: exact;
  forced-color-adjust: none;
}
.number {
  font-weight: 650;
  color: var(--slate);
}
.number.mastered {
  color: var(--jade-deep);
}
td {
  position: relative;
}
.aside {
  position: absolute;
  top: 0;
  right: 2px;
  font-size: 9px;
  color: var(--clay);
}
.sign {
  width: 8px;
  font-size: 10px;
  color: var(--ink-3);
}
.sign.clay {
  color: var(--clay);
}
</style>
