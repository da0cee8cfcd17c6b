import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

/** How many students of a class stand on each level of an outcome. */
export interface ClassStanding {
  atLevel: number[]
  masteryLevel: number
  mastered: number
  counted: number
}

/** The class ladder of each outcome; it comes after the list, which does not wait for it. */
export function useClassLadders(classId: MaybeRefOrGetter<number>, any: () => boolean) {
  const { data } = useQuery({
    key: () => keys.wall(toValue(classId), ''),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/mastery', {
          params: { path: { class_id: toValue(classId) }, query: {} },
        }),
      ),
    enabled: any,
  })
  return computed(() => {
    const levels = new Map(data.value?.scales.map((one) => [one.id, one.mastery_level]))
    return new Map(
      data.value?.outcomes.map((one): [number, ClassStanding] => [
        one.id,
        {
          atLevel: one.at_level,
          masteryLevel: levels.get(one.scale_id) ?? 0,
          mastered: one.mastered,
          counted: one.counted,
        },
      ]),
    )
  })
}
