import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from './queries'

/** The classes one teaches, each with how much waits to be marked; not asked for before they are `wanted`. */
export function useClasses(wanted = () => true) {
  return useQuery({
    key: keys.classes,
    query: () => ask(api.GET('/api/classes')),
    enabled: wanted,
  })
}

/** One of them; none where there is no number, as on the pages of students. */
export function useClass(classId: MaybeRefOrGetter<number>) {
  const { data } = useClasses(() => !Number.isNaN(toValue(classId)))
  return computed(() => data.value?.find((found) => found.id === toValue(classId)))
}
