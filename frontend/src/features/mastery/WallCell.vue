<script setup lang="ts">
import { computed } from 'vue'
import type { ScaleOut } from '@/api/schema'
import { several } from '@/design/format'
import { ladderRungs } from '@/design/rungs'
import { ladderWords, tight, type Cell, type Shown } from './wall'

/** One student and outcome: a ladder and a number, or a dash for no evidence. */
const props = defineProps<{
  cell: Cell
  scale: ScaleOut
  start: boolean
  selected: boolean
  show: Shown
  /** Others are filtered by, and not this one. */
  dim: boolean
}>()
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
  if (props.show === 'pieces') parts.push(several(cell.pieces, 'piece'))
  if (cell.direction !== 'level') parts.push(cell.direction)
  if (cell.slipped) parts.push('slipped')
  if (cell.judged) {
    parts.push(`judged by the teacher, calculated ${cell.judged.calculated ?? 'nothing'}`)
    if (cell.judged.evidence_changed) parts.push('the evidence changed since')
  }
  return [...parts, ...aside].join(', ')
})
const ARROWS = { up: '↗', down: '↘', level: '' }
/** The one sign beside the value. */
const sign = computed(() => {
  const { cell } = props
  if (cell.judged?.evidence_changed) return { text: '!', tone: 'clay' }
  if (cell.judged) return { text: '●', tone: 'plum' }
  if (cell.slipped) return { text: '▾', tone: 'clay' }
  return { text: ARROWS[cell.direction], tone: '' }
})
const title = computed(() => {
  const { judged } = props.cell
  if (!judged) return undefined
  const changed = judged.evidence_changed ? '. The evidence changed since' : ''
  return `Judged; calculated: ${judged.calculated ?? 'no evidence'}${changed}`
})
const number = computed(() => {
  const { cell, scale, show } = props
  if (show === 'pieces') return String(cell.pieces)
  if (show === 'direction') return { up: '↗', down: '↘', level: '→' }[cell.direction]
  return tight(cell.value ?? '', scale)
})
</script>

<template>
  <div
    role="gridcell"
    class="wall-cell"
    :class="{
      start,
      selected,
      none: cell.value === null,
      lifted: !cell.expected,
      judged: cell.judged,
      few: cell.state === 'needs-evidence',
      dim,
    }"
    :aria-selected="selected"
    :aria-label="words"
    :title="title"
  >
    <span v-if="!cell.expected" title="Not expected of this student">n.e.</span>
    <template v-else-if="cell.value !== null">
      <template v-if="show !== 'value'">
        <span v-if="many" class="number" :class="{ mastered: cell.state === 'mastered' }"
          >{{ (cell.level ?? 0) + 1 }}{{ cell.state === 'mastered' ? '✓' : '' }}</span
        >
        <span v-else class="ladder" :style="background" />
      </template>
      <b v-else-if="cell.state === 'mastered'">✓</b>
      <span>{{ number }}</span>
      <span class="sign" :class="sign.tone">{{
        show === 'direction' && !sign.tone ? '' : sign.text
      }}</span>
    </template>
    <span v-else>–</span>
    <span v-if="cell.aside && cell.expected" class="aside" title="Evidence is set aside">✕</span>
  </div>
</template>

<style scoped>
.wall-cell {
  position: absolute;
  top: 0;
  height: 100%;
  display: flex;
  justify-content: center;
  align-items: center;
  gap: 2px;
  font-size: 12px;
  cursor: pointer;
}
.start {
  border-left: 1px solid var(--line);
}
.wall-cell:hover {
  background: var(--paper);
}
.selected {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.wall-cell:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -4px;
}
.none {
  color: var(--ink-3);
}
.judged {
  background: var(--plum-wash);
}
.lifted {
  color: var(--plum);
  background: var(--plum-wash);
}
.few {
  color: var(--ink-3);
}
.dim {
  opacity: 0.28;
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
.number.mastered,
b {
  color: var(--jade-deep);
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
.sign.plum {
  color: var(--plum);
}
</style>
