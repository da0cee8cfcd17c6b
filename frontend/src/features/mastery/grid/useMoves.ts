import { nextTick, ref, watch, type Ref } from 'vue'
import { useKeys } from '@/design/keys'

interface Place {
  row: number
  column: number
}

/**
 * The keys by which one goes from cell to cell of the wall. `at` is the cell that is chosen, `choose`
 * chooses one (and says whether it is one that can be), `focus` brings the keyboard to it.
 */
export function useMoves(
  at: Readonly<Ref<Place | null>>,
  size: () => { rows: number; columns: number },
  grid: {
    choose: (row: number, column: number) => boolean
    focus: (row: number, column: number) => unknown
    focused: () => boolean | undefined
  },
  close: () => false | void,
) {
  /** Where the keyboard is on a folded strand, which cannot be chosen. */
  const resting = ref<Place | null>(null)
  watch(at, () => (resting.value = null))
  function move(rowBy: number, columnBy: number): boolean {
    const { rows, columns } = size()
    if (!rows || !columns) return false
    // From outside, the first arrow key goes to the first cell; once there, on from it.
    const from = resting.value ?? at.value ?? (grid.focused() ? { row: 0, column: 0 } : null)
    const row = from ? clamp(from.row + rowBy, rows) : 0
    const column = from ? clamp(from.column + columnBy, columns) : 0
    resting.value = grid.choose(row, column) ? null : { row, column }
    void nextTick(() => grid.focus(row, column))
    return true
  }
  useKeys('Mastery wall', [
    { keys: ['ArrowLeft'], does: 'Outcome before', run: () => move(0, -1) },
    { keys: ['ArrowRight'], does: 'Next outcome', run: () => move(0, 1) },
    { keys: ['ArrowUp'], does: 'Student before', run: () => move(-1, 0) },
    { keys: ['ArrowDown'], does: 'Next student', run: () => move(1, 0) },
    { keys: ['PageUp'], does: 'Ten students up', run: () => move(-10, 0) },
    { keys: ['PageDown'], does: 'Ten students down', run: () => move(10, 0) },
    { keys: ['Home'], does: 'First outcome', run: () => move(0, -size().columns) },
    { keys: ['End'], does: 'Last outcome', run: () => move(0, size().columns) },
    { keys: ['Escape'], does: 'Close the evidence trail', run: close },
  ])
}

const clamp = (value: number, count: number) => Math.max(0, Math.min(count - 1, value))
