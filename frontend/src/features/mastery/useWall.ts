import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { useNameOrder } from '@/shared/order'
import { keys } from '@/shared/queries'
import type { ScaleOut, WallOut } from '@/api/schema'

export interface Cell {
  state: WallOut['state'][number]
  value: string | null
  level: number | null
  pieces: number
  direction: WallOut['direction'][number]
  slipped: boolean
  /** False where the outcome is lifted for the student, who is not counted. */
  expected: boolean
  /** How many pieces of evidence are set aside. */
  aside: number
  /** Of one that is judged: the value that is calculated beside it, and whether to look again. */
  judged: { calculated: string | null; evidence_changed: boolean } | null
}

export interface WallColumn {
  outcome: WallOut['outcomes'][number]
  scale: ScaleOut
  /** The first of a run of outcomes under one strand. */
  starts: boolean
}

export interface WallRow {
  student: WallOut['students'][number]
  cells: Cell[]
}

/** The wall of a class as of a day, its columns made into rows once. */
export function useWall(classId: MaybeRefOrGetter<number>, asOf: MaybeRefOrGetter<string>) {
  const query = useQuery({
    key: () => keys.wall(toValue(classId), toValue(asOf)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/mastery', {
          params: {
            path: { class_id: toValue(classId) },
            query: toValue(asOf) ? { as_of: toValue(asOf) } : {},
          },
        }),
      ),
    placeholderData: (before) => before,
  })
  const { byName } = useNameOrder()
  const rows = computed<WallRow[]>(() => {
    const wall = query.data.value
    if (!wall) return []
    const width = wall.outcomes.length
    const aside = new Map(
      wall.aside.map((one) => [`${one.student_id} ${one.outcome_id}`, one.pieces]),
    )
    const judged = new Map(wall.judged.map((one) => [`${one.student_id} ${one.outcome_id}`, one]))
    const rowOf = new Map(wall.students.map((student, row) => [student.id, row]))
    return byName(wall.students).map((student) => ({
      student,
      cells: wall.outcomes.map((outcome, column) => ({
        ...cellAt(wall, rowOf.get(student.id)! * width + column),
        aside: aside.get(`${student.id} ${outcome.id}`) ?? 0,
        judged: judged.get(`${student.id} ${outcome.id}`) ?? null,
      })),
    }))
  })
  const columns = computed<WallColumn[]>(() => {
    const wall = query.data.value
    const scales = new Map(wall?.scales.map((scale) => [scale.id, scale]))
    return (wall?.outcomes ?? []).map((outcome, index, all) => ({
      outcome,
      scale: scales.get(outcome.scale_id)!,
      starts: index === 0 || all[index - 1]!.strand_id !== outcome.strand_id,
    }))
  })
  /** Runs of outcomes under one strand, for the header. */
  const spans = computed(() => {
    const titles = new Map(query.data.value?.strands.map((one) => [one.id, one.title]))
    const found: { title: string; count: number }[] = []
    for (const { outcome, starts } of columns.value) {
      if (starts) found.push({ title: titles.get(outcome.strand_id ?? 0) ?? '', count: 1 })
      else found.at(-1)!.count++
    }
    return found
  })
  return { ...query, rows, columns, spans }
}

function cellAt(wall: WallOut, at: number): Omit<Cell, 'aside' | 'judged'> {
  return {
    state: wall.state[at]!,
    value: wall.value[at] ?? null,
    level: wall.level[at] ?? null,
    pieces: wall.pieces[at]!,
    direction: wall.direction[at]!,
    slipped: wall.slipped[at]!,
    expected: wall.expected[at]!,
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
