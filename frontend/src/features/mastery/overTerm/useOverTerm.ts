import { useQuery } from '@pinia/colada'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

/** A class on its outcomes, now and over the term; who moved is told since a day (empty: at first). */
export const useClassOutcomes = (
  classId: MaybeRefOrGetter<number>,
  since: MaybeRefOrGetter<string>,
) =>
  useQuery({
    key: () => keys.classOutcomes(toValue(classId), toValue(since)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/over-term/outcomes', {
          params: {
            path: { class_id: toValue(classId) },
            query: toValue(since) ? { since: toValue(since) } : {},
          },
        }),
      ),
    placeholderData: (before) => before,
  })

/** The tasks of a class on which anything is marked. */
export const useClassTasks = (classId: MaybeRefOrGetter<number>) =>
  useQuery({
    key: () => keys.classTasks(toValue(classId)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/over-term/tasks', {
          params: { path: { class_id: toValue(classId) } },
        }),
      ),
  })

/** One outcome over all of one's classes. */
export const useAllClasses = (
  classId: MaybeRefOrGetter<number>,
  outcomeId: MaybeRefOrGetter<number>,
) =>
  useQuery({
    key: () => keys.allClasses(toValue(classId), toValue(outcomeId)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/over-term/outcomes/{outcome_id}/all-classes', {
          params: { path: { class_id: toValue(classId), outcome_id: toValue(outcomeId) } },
        }),
      ),
  })
