/** What is shown of a wall: which columns and rows, in which order; without a component. */
import { searcher } from '@/design/search'
import type { ScaleOut, WallOut } from '@/api/schema'
import type { WallPart } from '@/shared/sheets'

export interface Cell {
  state: WallOut['state'][number]
  value: string | null
  level: number | null
  scaleId: number
  pieces: number
  direction: WallOut['direction'][number]
  slipped: boolean
  /** False where the outcome is lifted for the student, who is not counted. */
  expected: boolean
  close: boolean
  thin: boolean
  swings: boolean
  /** How many pieces of evidence are set aside. */
  aside: number
  /** Of one that is judged: the value that is calculated beside it, and whether to look again. */
  judged: { calculated: string | null; evidence_changed: boolean } | null
}

export interface WallRow {
  student: WallOut['students'][number]
  /** One for each outcome of the class, in the order of the wall. */
  cells: Cell[]
  /** By strand: mastered of how many, and the mean. */
  strands: Map<number, StrandCell>
}

export interface StrandCell {
  mastered: number
  of: number
  value: string | null
}

interface Starts {
  /** The first of a run of columns under one strand. */
  starts: boolean
  strandId: number | null
}
export interface OutcomeColumn extends Starts {
  outcome: WallOut['outcomes'][number]
  scale: ScaleOut
  /** Its place among the outcomes of the class. */
  at: number
}
/** A strand that is folded into one column. */
export interface StrandColumn extends Starts {
  outcome: null
  title: string
  /** The places of its outcomes among those of the class. */
  ats: number[]
}
export type WallColumn = OutcomeColumn | StrandColumn

/** What a cell shows. */
export type Shown = 'ladder' | 'value' | 'direction' | 'pieces'

/** How a wall is looked at; all of it stands in the address. */
export interface WallView {
  /** "name", "mastered" or "o" and the number of an outcome; "-" before it turns it round. */
  sort: string
  /**
   * What cells are filtered by: a word with a number behind it, or "level" and a number, of any
   * scale or (after "-") of one.
   */
  sign: string
  /** The only outcome that the word is about; null: any. */
  on: number | null
  /** Part of a name. */
  name: string
  /** The only strand that is shown; null: all. */
  strand: number | null
  /** Outcomes that are not shown. */
  hidden: number[]
  /** Strands that are folded into one column. */
  folded: number[]
  show: Shown
  dense: boolean
}

/** The words that cells are filtered by, each with what it says. */
export function signsOf(thinBelow: number): Record<string, { name: string; means: string }> {
  return {
    close: {
      name: 'close',
      means: 'not yet, and less than half a step of the scale below the mastery cut score',
    },
    slipped: { name: 'slipped', means: 'mastered before, not now' },
    thin: { name: 'thin', means: `evidence from fewer than ${thinBelow} tasks or notes` },
    needs: { name: 'needs evidence', means: 'fewer tasks or notes than the outcome asks for' },
    none: { name: 'no evidence', means: 'nothing counts yet' },
    judged: { name: 'judged', means: 'a level that you set yourself' },
    swings: {
      name: 'wide swings',
      means: 'among the last four pieces, two that are two levels apart or more',
    },
  }
}

/** The levels that cells can be filtered by, each with what it says and its sign. */
export function levelsOf(wall: Pick<WallOut, 'scales'>): { sign: string; name: string }[] {
  const several = wall.scales.length > 1
  return wall.scales.flatMap((scale) =>
    scale.levels.map((level, at) => ({
      sign: several ? `level${at}-${scale.id}` : `level${at}`,
      name: several ? `${level.name} of ${scale.name}` : level.name,
    })),
  )
}

/** Whether a cell is what is filtered by. */
export function matches(cell: Cell, sign: string): boolean {
  if (!cell.expected) return false
  if (sign.startsWith('level')) {
    const [level, scale] = sign.slice(5).split('-').map(Number)
    return cell.level === level && (scale === undefined || cell.scaleId === scale)
  }
  switch (sign) {
    case 'close':
      return cell.close
    case 'slipped':
      return cell.slipped
    case 'thin':
      return cell.thin
    case 'needs':
      return cell.state === 'needs-evidence'
    case 'none':
      return cell.state === 'no-evidence'
    case 'judged':
      return cell.judged !== null
    case 'swings':
      return cell.swings
    default:
      return true
  }
}

/** The rows of a wall, of columns of its answer made into objects once. */
export function rowsOf(wall: WallOut): WallRow[] {
  const width = wall.outcomes.length
  const placed = <One extends { student_id: number; outcome_id: number }>(all: One[]) =>
    new Map(all.map((one) => [`${one.student_id} ${one.outcome_id}`, one]))
  const aside = placed(wall.aside)
  const judged = placed(wall.judged)
  const [close, thin, swings] = [wall.close, wall.thin, wall.swings].map((one) => new Set(one))
  return wall.students.map((student, row) => ({
    student,
    cells: wall.outcomes.map((outcome, column) => {
      const at = row * width + column
      const place = `${student.id} ${outcome.id}`
      return {
        state: wall.state[at]!,
        value: wall.value[at] ?? null,
        level: wall.level[at] ?? null,
        scaleId: outcome.scale_id,
        pieces: wall.pieces[at]!,
        direction: wall.direction[at]!,
        slipped: wall.slipped[at]!,
        expected: wall.expected[at]!,
        close: close!.has(at),
        thin: thin!.has(at),
        swings: swings!.has(at),
        aside: aside.get(place)?.pieces ?? 0,
        judged: judged.get(place) ?? null,
      }
    }),
    strands: new Map(
      wall.strand_roll_ups.map((one) => [
        one.id,
        { mastered: one.mastered[row]!, of: one.of[row]!, value: one.value[row] ?? null },
      ]),
    ),
  }))
}

/** The columns that are shown. */
export function columnsOf(wall: WallOut, view: Pick<WallView, 'strand' | 'hidden' | 'folded'>) {
  const scales = new Map(wall.scales.map((scale) => [scale.id, scale]))
  const titles = new Map(wall.strands.map((one) => [one.id, one.title]))
  const columns: WallColumn[] = []
  wall.outcomes.forEach((outcome, at) => {
    const strandId = outcome.strand_id
    if (view.strand !== null && strandId !== view.strand) return
    const before = columns.at(-1)
    const starts = !before || before.strandId !== strandId
    if (strandId !== null && view.folded.includes(strandId)) {
      const title = titles.get(strandId) ?? ''
      if (before?.outcome === null && !starts) before.ats.push(at)
      else columns.push({ outcome: null, title, ats: [at], starts, strandId })
    } else if (!view.hidden.includes(outcome.id)) {
      columns.push({ outcome, scale: scales.get(outcome.scale_id)!, at, starts, strandId })
    }
  })
  return columns
}

/** Whether a column is asked for what is filtered by. */
export const isAsked = (column: WallColumn, on: number | null) =>
  on === null || column.outcome?.id === on

/** How many cells of a row under a column are what is filtered by; of a folded strand all of them. */
export function matching(row: WallRow, column: WallColumn, sign: string): number {
  const places = column.outcome ? [column.at] : column.ats
  return places.filter((at) => matches(row.cells[at]!, sign)).length
}

/** The rows that are shown, in order; `byName` sorts by the school's language. */
export function shownRows(
  rows: WallRow[],
  columns: WallColumn[],
  view: Pick<WallView, 'sort' | 'sign' | 'on' | 'name'>,
): WallRow[] {
  const has = searcher(view.name)
  const found = rows.filter(
    (row) =>
      has(row.student.name, row.student.identifier) &&
      (!view.sign ||
        columns.some((one) => isAsked(one, view.on) && matching(row, one, view.sign) > 0)),
  )
  const down = view.sort.startsWith('-')
  const by = down ? view.sort.slice(1) : view.sort
  if (by === 'name') return down ? found.reverse() : found
  const column = columns.find((one) => one.outcome && `o${one.outcome.id}` === by)
  const key = (row: WallRow): number | null => {
    if (by === 'mastered') return row.student.mastered
    const cell = column?.outcome ? row.cells[column.at]! : null
    return cell && cell.expected && cell.value !== null ? Number(cell.value) : null
  }
  // Those without a value stand last, whichever way round; of equals the order of names stays.
  return found
    .map((row) => ({ row, key: key(row) }))
    .sort((a, b) => {
      if (a.key === null || b.key === null) return Number(a.key === null) - Number(b.key === null)
      return down ? b.key - a.key : a.key - b.key
    })
    .map((one) => one.row)
}

/**
 * What of a wall goes on paper: its rows and columns as they are shown, those of folded strands
 * too; what is not narrowed down or put in another order is left out.
 */
export function paperPart(
  wall: WallOut,
  rows: WallRow[],
  columns: WallColumn[],
  view: Pick<WallView, 'sort'>,
  asOf: string,
): WallPart {
  const shown = columns.flatMap((one) => (one.outcome ? [one.at] : one.ats))
  const all = rows.length === wall.students.length && view.sort === 'name'
  return {
    asOf,
    students: all ? undefined : rows.map((row) => row.student.id),
    outcomes:
      shown.length === wall.outcomes.length ? undefined : shown.map((at) => wall.outcomes[at]!.id),
  }
}

/** "level 3 of 4, Arrived, mastered": the text alternative of a ladder. */
export function ladderWords(cell: Pick<Cell, 'state' | 'level'>, scale: ScaleOut): string {
  if (cell.level === null) return 'no evidence'
  const level = `level ${cell.level + 1} of ${scale.levels.length}, ${scale.levels[cell.level]?.name}`
  if (cell.state === 'mastered') return `${level}, mastered`
  return cell.state === 'needs-evidence' ? `${level}, needs more evidence` : level
}

/**
 * A value for a tight cell: where every cut score is a whole tenth, the second decimal is cut off,
 * never rounded up; else both are shown.
 */
export function tight(value: string, scale: ScaleOut): string {
  return scale.levels.every((level) => level.cut.endsWith('0')) ? value.slice(0, -1) : value
}
