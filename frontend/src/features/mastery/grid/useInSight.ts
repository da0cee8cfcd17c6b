import { useVirtualizer, type Virtualizer } from '@tanstack/vue-virtual'
import { useEventListener } from '@vueuse/core'
import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'

/** A column as it is drawn: its place among those shown, and where that is. */
export interface InSight<Column> {
  index: number
  column: Column
  /** A declaration of styles, set at once. */
  style: string
}

/** So few cells are all drawn: they are found by the browser's own search, and printed. */
const ALL = 600

/**
 * Of a large table with a head and a column of names that stay put: the rows and columns that are
 * in sight, and the size of the whole. All sizes are pixels; `after` is what stands at the right of
 * the columns.
 */
export function useInSight<Row, Column>(
  scroll: Ref<HTMLElement | null>,
  table: {
    rows: MaybeRefOrGetter<Row[]>
    columns: MaybeRefOrGetter<Column[]>
    keyOf: (row: Row) => number
    header: number
    after: number
    nameWidth: MaybeRefOrGetter<number>
    columnWidth: MaybeRefOrGetter<number>
    rowHeight: MaybeRefOrGetter<number>
  },
) {
  const { keyOf, header, after } = table
  const rows = computed(() => toValue(table.rows))
  const columns = computed(() => toValue(table.columns))
  const nameWidth = computed(() => toValue(table.nameWidth))
  const columnWidth = computed(() => toValue(table.columnWidth))
  const rowHeight = computed(() => toValue(table.rowHeight))
  const all = computed(() => rows.value.length * columns.value.length <= ALL)
  const told = useOffsets(scroll)
  const down = useVirtualizer(
    computed(() => ({
      count: rows.value.length,
      getScrollElement: () => scroll.value,
      observeElementOffset: told('scrollTop'),
      estimateSize: () => rowHeight.value,
      overscan: all.value ? rows.value.length : 4,
      paddingStart: header,
      scrollPaddingStart: header,
      scrollPaddingEnd: 12,
      getItemKey: (at: number) => (rows.value[at] ? keyOf(rows.value[at]) : at),
    })),
  )
  const across = useVirtualizer(
    computed(() => ({
      horizontal: true,
      count: columns.value.length,
      getScrollElement: () => scroll.value,
      observeElementOffset: told('scrollLeft'),
      estimateSize: () => columnWidth.value,
      overscan: all.value ? columns.value.length : 2,
      paddingStart: nameWidth.value,
      paddingEnd: after,
      scrollPaddingStart: nameWidth.value,
      scrollPaddingEnd: 12,
    })),
  )
  /** Sizes that change are measured anew. */
  const sized = computed(() => `${rowHeight.value} ${columnWidth.value} ${nameWidth.value}`)
  const lines = computed(() => {
    void sized.value
    return down.value
      .getVirtualItems()
      .filter((one) => one.index < rows.value.length)
      .map((one) => ({
        index: one.index,
        key: String(one.key),
        row: rows.value[one.index]!,
        top: header + one.index * rowHeight.value,
      }))
  })
  /** The columns; the same object as before where nothing about them changed. */
  const shown = computed<InSight<Column>[]>((before) => {
    const found = across.value
      .getVirtualItems()
      .filter((one) => one.index < columns.value.length)
      .map((one) => ({
        index: one.index,
        column: columns.value[one.index]!,
        style: `left:${nameWidth.value + one.index * columnWidth.value}px;width:${columnWidth.value}px;`,
      }))
    const same =
      before?.length === found.length &&
      found.every((one, at) => {
        const was = before[at]!
        return was.column === one.column && was.style === one.style
      })
    return same ? before : found
  })
  const canvas = computed(() => ({
    width: `${nameWidth.value + columns.value.length * columnWidth.value + after}px`,
    height: `${header + rows.value.length * rowHeight.value}px`,
  }))
  function bringIntoSight(row: number, column: number) {
    down.value.scrollToIndex(row, { align: 'auto' })
    across.value.scrollToIndex(column, { align: 'auto' })
  }
  return { all, lines, shown, canvas, bringIntoSight }
}

/**
 * Tell down and across where it is scrolled to, both at once: by a listener for each, the page would
 * be laid out in between, after what the first one changed.
 */
function useOffsets(scroll: Ref<HTMLElement | null>) {
  const listeners = new Set<() => void>()
  useEventListener(scroll, 'scroll', () => listeners.forEach((tell) => tell()), { passive: true })
  return (axis: 'scrollTop' | 'scrollLeft') =>
    (
      { scrollElement }: Virtualizer<HTMLElement, Element>,
      tell: (offset: number, scrolling: boolean) => void,
    ) => {
      if (!scrollElement) return
      const one = () => tell(scrollElement[axis], false)
      listeners.add(one)
      one()
      return () => listeners.delete(one)
    }
}
