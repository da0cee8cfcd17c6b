<script setup lang="ts">
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import type { WallColumn, WallRow, WallView } from '@/features/mastery/wall'
import { spansOf } from './spans'
import { useInSight } from './useInSight'
import WallHead from './WallHead.vue'
import WallLine from './WallLine.vue'

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
  rollUp: string
}>()
const emit = defineEmits<{
  choose: [row: number, column: number]
  sort: [by: string]
  fold: [strandId: number]
}>()

/** The same function at every scroll, so that rows stay as they are. */
const choose = (row: number, column: number) => emit('choose', row, column)

const scroll = ref<HTMLElement | null>(null)
const { width } = useElementSize(scroll)
const narrow = useMediaQuery('(max-width: 900px)')
const HEADER = 98
const COUNT = 92
const nameWidth = computed(() => (narrow.value ? 128 : 190))
const rowHeight = computed(() => (props.view.dense ? 24 : 32))
const columnWidth = computed(() => {
  const room = width.value - nameWidth.value - COUNT
  return Math.max(64, Math.min(104, Math.floor(room / Math.max(1, props.columns.length))))
})
const { all, lines, shown, canvas, bringIntoSight } = useInSight<WallRow, WallColumn>(scroll, {
  rows: () => props.rows,
  columns: () => props.columns,
  keyOf: (row) => row.student.id,
  header: HEADER,
  after: COUNT,
  nameWidth,
  columnWidth,
  rowHeight,
})
const countLeft = computed(() => nameWidth.value + props.columns.length * columnWidth.value)
const spans = computed(() =>
  spansOf(props.columns, shown.value[0]?.index ?? 0, shown.value.at(-1)?.index ?? -1),
)

/** Bring the keyboard to a cell, and the cell into sight. */
async function focus(row: number, column: number) {
  bringIntoSight(row, column)
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
    bringIntoSight(props.at.row, props.at.column)
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
  if (here && there) return here
  return { row: lines.value[0]?.index ?? 0, column: shown.value[0]?.index ?? 0 }
})
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
      <WallHead
        :columns="shown"
        :spans="spans"
        :titles="titles"
        :view="view"
        :height="HEADER"
        :name-width="nameWidth"
        :column-width="columnWidth"
        :count-left="countLeft"
        :count-width="COUNT"
        :column-count="columns.length"
        :roll-up="rollUp"
        @sort="(by) => emit('sort', by)"
        @fold="(strandId) => emit('fold', strandId)"
      />
      <div role="rowgroup">
        <WallLine
          v-for="line in lines"
          :key="line.key"
          :row="line.row"
          :index="line.index"
          :columns="shown"
          :top="line.top"
          :height="rowHeight"
          :name-width="nameWidth"
          :count-left="countLeft"
          :count-width="COUNT"
          :col-count="columns.length + 2"
          :show="view.show"
          :sign="view.sign"
          :on="view.on"
          :chosen="at?.row === line.index ? at.column : -1"
          :stop="stop.row === line.index ? stop.column : -1"
          @choose="choose"
        />
      </div>
    </div>
  </div>
</template>

<style scoped src="./sheet.css"></style>
