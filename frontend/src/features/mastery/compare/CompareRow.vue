<script setup lang="ts">
import { computed } from 'vue'
import { ladderRungs } from '@/design/rungs'
import type { ComparedCellOut, ScaleOut } from '@/api/schema'
import type { InSight } from '@/features/mastery/grid/useInSight'
import { CHANGES, under } from './useComparison'

const TONES = { G: 'gains', L: 'loses', u: '', d: '', '=': '' }

export interface ComparedColumn {
  outcomeId: number
  scale: ScaleOut
}

/**
 * One student under the settings that would hold, one for each outcome of the class, of which
 * `columns` are in sight. Plain elements, since each step of a slider redraws all of them.
 */
const props = defineProps<{
  name: string
  index: number
  top: number
  height: number
  nameWidth: number
  columns: InSight<ComparedColumn>[]
  cells: (ComparedCellOut | undefined)[]
  settings: number[]
  touched: boolean[]
}>()
const shown = computed(() =>
  props.columns.map(({ index, column, style }) => {
    const cell = props.cells[index]
    if (!cell) return { index, style, place: style, text: '–', words: 'no evidence', tone: 'none' }
    const { scale } = column
    const { value, level, mastered, change } = under(cell, props.settings[index]!)
    const levels = scale.levels.length
    const many = levels > 4
    const said = change === '=' ? '' : CHANGES[change]
    const name = `${scale.levels[level]?.name}${mastered ? ', mastered' : ''}`
    const ladder = many
      ? 'none'
      : ladderRungs({
          level,
          levels,
          masteryLevel: scale.mastery_level,
          size: 15,
          uncertain: !cell.enough,
        })
    return {
      index,
      style: `${style}--ladder:${ladder}`,
      place: style,
      text: `${many ? `${level + 1}${mastered ? '✓' : ''} · ` : ''}${value} ${said}`,
      words: `${value}, ${name}${said && `, ${said}`}`,
      tone: `${TONES[change]} ${cell.enough ? '' : 'few'} ${many ? 'many' : ''}`,
    }
  }),
)
</script>

<template>
  <div
    role="row"
    class="line"
    :aria-rowindex="index + 2"
    :style="{ top: `${top}px`, height: `${height}px` }"
  >
    <div role="rowheader" class="name" aria-colindex="1" :style="{ width: `${nameWidth}px` }">
      <span dir="auto">{{ name }}</span>
    </div>
    <div
      v-for="one in shown"
      :key="one.index"
      v-memo="[one.text, one.words, one.tone, touched[one.index], one.place]"
      role="cell"
      class="cell"
      :class="[one.tone, { kept: !touched[one.index] }]"
      :style="one.style"
      :aria-colindex="one.index + 2"
      :aria-label="one.words"
    >
      {{ one.text }}
    </div>
  </div>
</template>

<style scoped src="../grid/line.css"></style>
<style scoped>
.name {
  padding: 0 6px;
  font-size: 13px;
}
/* One element and one text for each cell, laid out for itself: a step redraws some hundred. */
.cell {
  position: absolute;
  top: 0;
  height: 100%;
  contain: strict;
  padding: 9px 4px 0 26px;
  line-height: 18px;
  white-space: nowrap;
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
.cell::before {
  content: '';
  position: absolute;
  left: 6px;
  top: 10px;
  width: 15px;
  height: 15px;
  background: var(--ladder);
  print-color-adjust: exact;
  forced-color-adjust: none;
}
.many,
.none {
  padding-left: 6px;
}
.none {
  color: var(--ink-3);
}
.none::before {
  display: none;
}
.few {
  color: var(--ink-3);
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
