import { useQuery } from '@pinia/colada'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import type { MethodOut } from '@/api/schema'
import { keys } from '@/shared/queries'

/** Of which student, on which outcome, in which class. */
interface Place {
  classId: number
  studentId: number
  outcomeId: number
}

const pathOf = ({ classId, studentId, outcomeId }: Place) => ({
  class_id: classId,
  student_id: studentId,
  outcome_id: outcomeId,
})

/** The evidence trail of one student and outcome as of a day; empty: today. */
export const useTrail = (of: MaybeRefOrGetter<Place>, asOf: MaybeRefOrGetter<string> = '') =>
  useQuery({
    key: () => {
      const { classId, studentId, outcomeId } = toValue(of)
      return keys.trail(classId, studentId, outcomeId, toValue(asOf))
    },
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}', {
          params: {
            path: pathOf(toValue(of)),
            query: toValue(asOf) ? { as_of: toValue(asOf) } : {},
          },
        }),
      ),
  })

/**
 * The same evidence under another method (null: none is asked for): its points over time. With
 * `smooth`, those before stay until the new ones are there, as a slider asks for.
 */
export const useTrailUnder = (
  of: MaybeRefOrGetter<Place>,
  method: MaybeRefOrGetter<MethodOut | null>,
  smooth = false,
) =>
  useQuery({
    key: () => {
      const { classId, studentId, outcomeId } = toValue(of)
      return keys.trailUnder(classId, studentId, outcomeId, toValue(method)?.name ?? '')
    },
    enabled: () => toValue(method) !== null,
    query: () => {
      const { kind, newest, last } = toValue(method)!
      return ask(
        api.GET('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}/under', {
          params: { path: pathOf(toValue(of)), query: { kind, newest, last } },
        }),
      )
    },
    placeholderData: (before) => (smooth ? before : undefined),
  })
