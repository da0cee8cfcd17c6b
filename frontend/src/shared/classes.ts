import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from './queries'

/** The classes one teaches, each with how much waits to be marked. */
export function useClasses() {
  return useQuery({ key: keys.classes, query: () => ask(api.GET('/api/classes')) })
}

/** One of them. */
export function useClass(classId: MaybeRefOrGetter<number>) {
  const { data } = useClasses()
  return computed(() => data.value?.find((found) => found.id === toValue(classId)))
}
