<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import ClassLadder from '@/design/ClassLadder.vue'
import WallCell from './WallCell.vue'
import {
  matches,
  matching,
  type OutcomeColumn,
  type WallColumn,
  type WallRow,
  type WallView,
} from './wall'

/**
 * Students down, outcomes across under their strands; header and names stay put. Of a large class
 * only the rows and columns in sight are drawn.
 */
const props = defineProps<{
  rows: WallRow[]
  columns: WallColumn[]
  titles: Map<number, string>
  view: WallView
  at: { row: number; column: number } | null
}>()
const emit = defineEmits<{
  choose: [row: number, column: number]
  sort: [by: string]
  fold: [strandId: number]
}>()

const scroll = ref<HTMLElement | null>(null)
const { width } = useElementSize(scroll)
const narrow = useMediaQuery('(max-width: 900px)')
const HEADER = 98
const COUNT = 92
/** So few cells are all drawn: they are found by the browser's own search, and printed. */
const ALL = 600
const nameWidth = computed(() => (narrow.value ? 128 : 190))
const rowHeight = computed(() => (props.view.dense ? 24 : 32))
const all = computed(() => props.rows.length * props.columns.length <= ALL)
const columnWidth = computed(() => {
  const room = width.value - nameWidth.value - COUNT
  return Math.max(64, Math.min(104, Math.floor(room / Math.max(1, props.columns.length))))
})
const down = useVirtualizer(
  computed(() => ({
    count: props.rows.length,
    getScrollElement: () => scroll.value,
    estimateSize: () => rowHeight.value,
    overscan: all.value ? props.rows.length : 4,
    paddingStart: HEADER,
    scrollPaddingStart: HEADER,
    scrollPaddingEnd: 12,
    getItemKey: (at: number) => props.rows[at]?.student.id ?? at,
  })),
)
const across = useVirtualizer(
  computed(() => ({
    horizontal: true,
    count: props.columns.length,
    getScrollElement: () => scroll.value,
    estimateSize: () => columnWidth.value,
    overscan: all.value ? props.columns.length : 2,
    paddingStart: nameWidth.value,
    paddingEnd: COUNT,
    scrollPaddingStart: nameWidth.value,
    scrollPaddingEnd: 12,
  })),
)
/** Sizes that change are measured anew. */
const sized = computed(() => `${rowHeight.value} ${columnWidth.value} ${nameWidth.value}`)
const lines = computed(() => {
  void sized.value
  return down.value.getVirtualItems()
})
const shown = computed(() => {
  void sized.value
  const left = nameWidth.value
  const size = columnWidth.value
  return across.value
    .getVirtualItems()
    .filter((one) => one.index < props.columns.length)
    .map((one) => ({
      index: one.index,
      column: props.columns[one.index]!,
      style: { left: `${left + one.index * size}px`, width: `${size}px` },
    }))
})
const canvas = computed(() => ({
  width: `${nameWidth.value + props.columns.length * columnWidth.value + COUNT}px`,
  height: `${HEADER + props.rows.length * rowHeight.value}px`,
}))
const countLeft = computed(() => nameWidth.value + props.columns.length * columnWidth.value)
/** Runs of columns under one strand, as far as they are in sight. */
const spans = computed(() => {
  const first = shown.value[0]?.index ?? 0
  const last = shown.value.at(-1)?.index ?? -1
  const found: { strandId: number | null; from: number; count: number; folded: boolean }[] = []
  props.columns.forEach((column, at) => {
    if (column.starts)
      found.push({
        strandId: column.strandId,
        from: at,
        count: 1,
        folded: column.outcome === null,
      })
    else found.at(-1)!.count++
  })
  return found.filter((one) => one.from <= last && one.from + one.count > first)
})

/** Bring the keyboard to a cell, and the cell into sight. */
async function focus(row: number, column: number) {
  down.value.scrollToIndex(row, { align: 'auto' })
  across.value.scrollToIndex(column, { align: 'auto' })
  for (let tries = 0; tries < 8; tries++) {
    await nextTick()
    const found = scroll.value?.querySelector<HTMLElement>(`[data-at="${row} ${column}"]`)
    if (found) return found.focus({ preventScroll: all.value ? false : true })
    await new Promise((done) => requestAnimationFrame(done))
  }
}
// The cell that the address names is brought into sight once the wall is there.
watch(
  () => width.value > 0 && props.at !== null,
  async (there) => {
    if (!there || !props.at) return
    await nextTick()
    down.value.scrollToIndex(props.at.row, { align: 'auto' })
    across.value.scrollToIndex(props.at.column, { align: 'auto' })
  },
  { immediate: true },
)
/** Whether the keyboard is at a cell. */
const focused = () => !!scroll.value?.querySelector('[data-at]:focus')
defineExpose({ focus, focused })

/** One cell of the grid can be tabbed to: the chosen one, or the first in sight. */
const stop = computed(() => {
  const here = props.at
  const there =
    here &&
    lines.value.some((one) => one.index === here.row) &&
    shown.value.some((one) => one.index === here.column)
  if (here && there) return `${here.row} ${here.column}`
  return `${lines.value[0]?.index ?? 0} ${shown.value[0]?.index ?? 0}`
})

function columnLabel({ outcome, scale }: OutcomeColumn): string {
  const levels = outcome.at_level.map((count, level) => `${count} at ${scale.levels[level]?.name}`)
  return `${outcome.mastered} of ${outcome.counted} mastered: ${levels.join(', ')}; ${outcome.needing} need evidence, ${outcome.without} without`
}
/** How the rows are sorted by a column, as aria says it. */
function sorted(by: string): 'ascending' | 'descending' | undefined {
  if (props.view.sort === by) return 'ascending'
  return props.view.sort === `-${by}` ? 'descending' : undefined
}
const ARROW = { ascending: ' ▴', descending: ' ▾', none: '' }
const arrow = (by: string) => ARROW[sorted(by) ?? 'none']
</script>

<template>
  <div ref="scroll" class="scroll">
    <div
      role="grid"
      aria-label="Mastery wall"
      :aria-rowcount="rows.length + 2"
      :aria-colcount="columns.length + 2"
      class="canvas"
      :style="canvas"
    >
      <div class="head" role="rowgroup" :style="{ height: `${HEADER}px` }">
        <div role="row" aria-rowindex="1" class="strands">
          <div class="corner" role="presentation" :style="{ width: `${nameWidth}px` }"></div>
          <div
            v-for="span in spans"
            :key="span.from"
            role="columnheader"
            :aria-colindex="span.from + 2"
            :aria-colspan="span.count"
            class="strand"
            :style="{
              left: `${nameWidth + span.from * columnWidth}px`,
              width: `${span.count * columnWidth}px`,
            }"
          >
            <button
              v-if="span.strandId !== null"
              type="button"
              :aria-expanded="!span.folded"
              :title="
                span.folded
                  ? 'Show the outcomes of this strand'
                  : 'Fold this strand into one column'
              "
              @click="emit('fold', span.strandId)"
            >
              <span class="title" :style="{ left: `${nameWidth + 4}px` }"
                >{{ span.folded ? '▸' : '▾' }} {{ titles.get(span.strandId) }}</span
              >
            </button>
          </div>
        </div>
        <div role="row" aria-rowindex="2" class="codes">
          <div
            class="corner name"
            role="columnheader"
            aria-colindex="1"
            :aria-sort="sorted('name') ?? 'none'"
            :style="{ width: `${nameWidth}px` }"
          >
            <button type="button" @click="emit('sort', 'name')">Student{{ arrow('name') }}</button>
          </div>
          <template v-for="{ column, index, style } in shown" :key="index">
            <div
              v-if="column.outcome"
              role="columnheader"
              class="code"
              :class="{ start: column.starts }"
              :aria-colindex="index + 2"
              :aria-sort="sorted(`o${column.outcome.id}`) ?? 'none'"
              :title="column.outcome.title"
              :style="style"
            >
              <button type="button" @click="emit('sort', `o${column.outcome.id}`)">
                {{ column.outcome.code
                }}<span
                  v-if="column.outcome.own_method"
                  class="own"
                  :title="column.outcome.method.name"
                  :aria-label="`, by ${column.outcome.method.name}`"
                  >*</span
                >{{ arrow(`o${column.outcome.id}`) }}
              </button>
              <ClassLadder
                :at-level="column.outcome.at_level"
                :mastery-level="column.scale.mastery_level"
                :label="columnLabel(column)"
              />
              <span class="of" aria-hidden="true"
                >{{ column.outcome.mastered }} of {{ column.outcome.counted }}</span
              >
            </div>
            <div
              v-else
              role="columnheader"
              class="code start"
              :aria-colindex="index + 2"
              :style="style"
            >
              <span class="of">mastered<br />mean</span>
            </div>
          </template>
          <div
            class="code start"
            role="columnheader"
            :aria-colindex="columns.length + 2"
            :aria-sort="sorted('mastered') ?? 'none'"
            :style="{ left: `${countLeft}px`, width: `${COUNT}px` }"
          >
            <button type="button" @click="emit('sort', 'mastered')">
              Mastered{{ arrow('mastered') }}
            </button>
          </div>
        </div>
      </div>
      <div role="rowgroup">
        <div
          v-for="line in lines"
          :key="String(line.key)"
          role="row"
          class="row-line"
          :aria-rowindex="line.index + 3"
          :style="{ top: `${HEADER + line.index * rowHeight}px`, height: `${rowHeight}px` }"
        >
          <div
            role="rowheader"
            aria-colindex="1"
            class="corner name"
            :style="{ width: `${nameWidth}px` }"
            :title="rows[line.index]!.student.name"
          >
            <span dir="auto">{{ rows[line.index]!.student.name }}</span>
          </div>
          <template v-for="{ column, index, style } in shown" :key="index">
            <WallCell
              v-if="column.outcome"
              :cell="rows[line.index]!.cells[column.at]!"
              :scale="column.scale"
              :start="column.starts"
              :show="view.show"
              :dim="!!view.sign && !matches(rows[line.index]!.cells[column.at]!, view.sign)"
              :selected="at?.row === line.index && at?.column === index"
              :style="style"
              :aria-colindex="index + 2"
              :tabindex="stop === `${line.index} ${index}` ? 0 : -1"
              :data-at="`${line.index} ${index}`"
              @click="emit('choose', line.index, index)"
              @keydown.enter.prevent="emit('choose', line.index, index)"
              @keydown.space.prevent="emit('choose', line.index, index)"
            />
            <div
              v-else
              role="gridcell"
              class="strand-cell start"
              :class="{ dim: !!view.sign && !matching(rows[line.index]!, column, view.sign) }"
              :style="style"
              :aria-colindex="index + 2"
              :tabindex="stop === `${line.index} ${index}` ? 0 : -1"
              :data-at="`${line.index} ${index}`"
            >
              <template v-if="rows[line.index]!.strands.get(column.strandId ?? 0)">
                {{ rows[line.index]!.strands.get(column.strandId!)!.mastered }} of
                {{ rows[line.index]!.strands.get(column.strandId!)!.of }}
                <span class="quiet">{{
                  rows[line.index]!.strands.get(column.strandId!)!.value ?? ''
                }}</span>
              </template>
            </div>
          </template>
          <div
            role="gridcell"
            class="count start"
            :aria-colindex="columns.length + 2"
            :style="{ left: `${countLeft}px`, width: `${COUNT}px` }"
          >
            {{ rows[line.index]!.student.mastered }} of {{ rows[line.index]!.student.of }}
          </div>
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  min-height: 0;
  flex: 1 1 auto;
  border: 1px solid var(--line);
  background: var(--card);
  contain: strict;
}
.canvas {
  position: relative;
  min-width: 100%;
}
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
  font-size: 12px;
  color: var(--ink-2);
}
.strands {
  position: relative;
  height: 24px;
}
.strand {
  position: absolute;
  top: 0;
  height: 24px;
  border-left: 1px solid var(--line);
}
.strand .title {
  position: sticky;
  font: 560 13px/24px var(--head);
  color: var(--ink);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.strand button {
  width: 100%;
  overflow: clip;
}
.codes {
  position: relative;
  height: 73px;
}
.codes .name {
  position: sticky;
  display: flex;
  align-items: flex-end;
  height: 73px;
  padding-bottom: 6px;
}
.code {
  position: absolute;
  top: 0;
  height: 73px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: flex-end;
  gap: 2px;
  padding-bottom: 4px;
}
button {
  border: 0;
  background: none;
  padding: 0 4px;
  font: inherit;
  font-weight: 600;
  color: inherit;
  cursor: pointer;
  text-align: left;
}
button:hover {
  text-decoration: underline;
}
.of {
  color: var(--ink-3);
  font-size: 11px;
  white-space: nowrap;
}
.own {
  color: var(--ink-3);
}
.corner {
  position: sticky;
  left: 0;
  z-index: 1;
  background: var(--card);
}
.strands .corner {
  height: 24px;
}
.row-line {
  position: absolute;
  left: 0;
  width: 100%;
  border-bottom: 1px solid var(--line);
}
.row-line .name {
  display: flex;
  align-items: center;
  height: 100%;
  padding: 0 10px;
}
.row-line .name span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.start {
  border-left: 1px solid var(--line);
}
.count,
.strand-cell {
  position: absolute;
  top: 0;
  height: 100%;
  display: flex;
  gap: 4px;
  align-items: center;
  justify-content: center;
  color: var(--ink-2);
  white-space: nowrap;
  font-size: 13px;
}
.strand-cell {
  background: var(--sunk);
  font-size: 12px;
}
.dim {
  opacity: 0.28;
}
.strand-cell:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -4px;
}
@media (max-width: 900px) {
  .scroll {
    height: 70vh;
  }
}
</style>
