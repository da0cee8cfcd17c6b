<script setup lang="ts">
import { computed } from 'vue'
import {
  isAsked,
  matches,
  matching,
  type Shown,
  type WallColumn,
  type WallRow,
} from '@/features/mastery/wall'
import { lookOf, type CellLook } from './cellLook'
import type { InSight } from './useInSight'

/**
 * One student's row, as far as its columns are in sight. While the wall is scrolled, rows that stay
 * in sight are not drawn anew: everything here is a plain value or stays the same object.
 */
const props = defineProps<{
  row: WallRow
  index: number
  columns: InSight<WallColumn>[]
  top: number
  height: number
  nameWidth: number
  countLeft: number
  countWidth: number
  colCount: number
  show: Shown
  sign: string
  /** The only outcome that the sign is about; null: any. */
  on: number | null
  /** The column of the cell that is chosen, and of the one that can be tabbed to; -1: none here. */
  chosen: number
  stop: number
}>()
const emit = defineEmits<{ choose: [row: number, column: number] }>()
/** Of words that are filtered by, those that a cell does not say of itself. */
const SAID: Record<string, string> = { close: ', close', thin: ', thin', swings: ', wide swings' }
interface Drawn {
  index: number
  style: string
  start: boolean
  dim: boolean
  look: CellLook | null
  words: string | undefined
  strand: string
  value: string
}
const cells = computed(() =>
  props.columns.map(({ column, index, style }): Drawn => {
    const place = { index, style, start: column.starts }
    if (!column.outcome) {
      const strand = props.row.strands.get(column.strandId ?? 0)
      const dim = !!props.sign && (!!props.on || !matching(props.row, column, props.sign))
      const words = strand ? `${strand.mastered} of ${strand.of}` : ''
      return {
        ...place,
        dim,
        look: null,
        words: undefined,
        strand: words,
        value: strand?.value ?? '',
      }
    }
    const cell = props.row.cells[column.at]!
    const dim = !!props.sign && !(isAsked(column, props.on) && matches(cell, props.sign))
    const look = lookOf(cell, column.scale, props.show)
    const words = look.words + (dim ? '' : (SAID[props.sign] ?? ''))
    return { ...place, style: drawn(style, look), dim, look, words, strand: '', value: '' }
  }),
)

/** A ladder is the background of what stands before the text. */
const drawn = (style: string, { ladder }: CellLook) =>
  ladder ? `${style}--ladder:${ladder}` : style
/** One listener for all cells of the row. */
function choose(event: Event) {
  const at = (event.target as HTMLElement).closest<HTMLElement>('[data-at]')?.dataset.at
  if (at) emit('choose', props.index, Number(at.split(' ')[1]))
}
</script>

<template>
  <div
    role="row"
    class="line"
    :aria-rowindex="index + 3"
    :style="{ top: `${top}px`, height: `${height}px`, lineHeight: `${height - 1}px` }"
    @click="choose"
    @keydown.enter.prevent="choose"
    @keydown.space.prevent="choose"
  >
    <div
      role="rowheader"
      aria-colindex="1"
      class="name"
      :style="{ width: `${nameWidth}px` }"
      :title="row.student.name"
    >
      <span dir="auto">{{ row.student.name }}</span>
    </div>
    <div
      v-for="cell in cells"
      :key="cell.index"
      v-memo="[
        cell.look,
        cell.strand,
        cell.value,
        cell.style,
        cell.start,
        cell.dim,
        sign,
        chosen === cell.index,
        stop === cell.index,
        index,
      ]"
      role="gridcell"
      class="cell"
      :class="[
        cell.look ? cell.look.tone : 'strand',
        cell.look?.ladder ? 'laddered' : '',
        {
          start: cell.start,
          dim: cell.dim,
          found: !!sign && !cell.dim,
          selected: chosen === cell.index,
        },
      ]"
      :style="cell.style"
      :aria-colindex="cell.index + 2"
      :aria-selected="cell.look ? chosen === cell.index : undefined"
      :aria-label="cell.words"
      :title="cell.look?.title"
      :tabindex="stop === cell.index ? 0 : -1"
      :data-at="`${index} ${cell.index}`"
    >
      <template v-if="cell.look"
        ><b v-if="cell.look.mark" :class="{ mastered: cell.look.mastered }">{{ cell.look.mark }}</b
        >{{ cell.look.text
        }}<i v-if="cell.look.sign" :class="cell.look.signTone">{{ cell.look.sign }}</i
        ><span v-if="cell.look.aside" class="aside" title="Evidence is set aside">✕</span></template
      >
      <template v-else
        >{{ cell.strand }} <span class="quiet">{{ cell.value }}</span></template
      >
    </div>
    <div
      role="gridcell"
      class="count"
      :aria-colindex="colCount"
      :style="{ left: `${countLeft}px`, width: `${countWidth}px` }"
    >
      {{ row.student.mastered }} of {{ row.student.of }}
    </div>
  </div>
</template>

<style scoped src="./line.css"></style>
<style scoped>
.cell,
.count {
  position: absolute;
  top: 0;
  height: 100%;
  text-align: center;
  font-size: 12px;
  white-space: nowrap;
  contain: strict;
}
.cell {
  cursor: pointer;
}
.cell:hover {
  background: var(--paper);
}
.start,
.count {
  border-left: 1px solid var(--line);
}
.selected {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.cell:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -4px;
}
.none,
.few {
  color: var(--ink-3);
}
.judged {
  background: var(--plum-wash);
}
.lifted {
  color: var(--plum);
  background: var(--plum-wash);
}
.strand {
  background: var(--sunk);
  color: var(--ink-2);
  cursor: default;
}
.count {
  color: var(--ink-2);
  font-size: 13px;
}
.dim {
  opacity: 0.5;
}
.found {
  font-weight: 650;
  color: var(--ink);
}
/* One element and one text for most cells: hundreds come and go while the wall is scrolled. */
.laddered::before {
  content: '';
  display: inline-block;
  width: 15px;
  height: 15px;
  margin-right: 3px;
  vertical-align: -3px;
  background: var(--ladder);
  print-color-adjust: exact;
  forced-color-adjust: none;
}
b {
  margin-right: 3px;
  font-weight: 650;
  color: var(--slate);
}
b.mastered {
  color: var(--jade-deep);
}
.aside {
  position: absolute;
  top: 0;
  right: 2px;
  font-size: 9px;
  color: var(--clay);
}
i {
  display: inline-block;
  width: 10px;
  font-size: 10px;
  font-style: normal;
  color: var(--ink-3);
}
i.clay {
  color: var(--clay);
}
i.plum {
  color: var(--plum);
}
</style>
