import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import type { ComparedCellOut, MethodComparisonOut, MethodKind, ScaleOut } from '@/api/schema'
import { useNameOrder } from '@/shared/order'
import { keys } from '@/shared/queries'

export type Change = '=' | 'G' | 'L' | 'u' | 'd'

/** What a change is called where it stands: mastery gained or lost, a level up or down. */
export const CHANGES: Record<Exclude<Change, '='>, string> = {
  G: 'gains',
  L: 'loses',
  u: 'up',
  d: 'down',
}

/** What one student and outcome come to under one setting. */
export interface Under {
  value: string
  level: number
  mastered: boolean
  change: Change
}

export function under(cell: ComparedCellOut, setting: number): Under {
  return {
    value: cell.values[setting]!,
    level: Number(cell.levels[setting]),
    mastered: cell.mastered[setting] === '1',
    change: cell.changes[setting] as Change,
  }
}

/** What a setting comes to for all that is compared. */
export interface Sum {
  mastered: number
  of: number
  by: Record<Exclude<Change, '='>, ComparedCellOut[]>
}

/** `settingOf` says which setting would hold for a cell's outcome. */
export function sumOf(cells: ComparedCellOut[], settingOf: (cell: ComparedCellOut) => number): Sum {
  const by: Sum['by'] = { G: [], L: [], u: [], d: [] }
  let mastered = 0
  for (const cell of cells) {
    const setting = settingOf(cell)
    if (cell.mastered[setting] === '1') mastered++
    const change = cell.changes[setting] as Change
    if (change !== '=') by[change].push(cell)
  }
  return { mastered, of: cells.length, by }
}

/** The methods of a class, or of one outcome, with all that each would come to: one answer for all. */
export function useComparison(
  classId: MaybeRefOrGetter<number>,
  outcomeId: MaybeRefOrGetter<number | null>,
) {
  const query = useQuery({
    key: () => keys.comparison(toValue(classId), toValue(outcomeId)),
    query: () => {
      const outcome = toValue(outcomeId)
      return ask(
        api.GET('/api/classes/{class_id}/comparison', {
          params: {
            path: { class_id: toValue(classId) },
            query: outcome === null ? {} : { outcome_id: outcome },
          },
        }),
      )
    },
  })
  const { byName } = useNameOrder()
  const students = computed(() => byName(query.data.value?.students ?? []))
  const cells = computed(
    () =>
      new Map(
        query.data.value?.cells.map((one) => [`${one.student_id} ${one.outcome_id}`, one] as const),
      ),
  )
  const scales = computed(
    () => new Map<number, ScaleOut>(query.data.value?.scales.map((one) => [one.id, one])),
  )
  return {
    ...query,
    students,
    scales,
    cellOf: (studentId: number, outcomeId: number) => cells.value.get(`${studentId} ${outcomeId}`),
  }
}

/** The place of a method among the settings that are compared. */
export function settingOf(
  comparison: MethodComparisonOut,
  kind: MethodKind,
  newest: number,
  last: number,
): number {
  return comparison.settings.findIndex(
    (one) =>
      one.kind === kind &&
      (kind !== 'decaying-average' || one.newest === newest) &&
      (kind !== 'recent-mean' || one.last === last),
  )
}
