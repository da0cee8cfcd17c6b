import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from './queries'
import { useSession } from './session'

/** The classes one teaches, each with how much waits to be marked. Students are not asked for any. */
export function useClasses() {
  const { data: session } = useSession()
  return useQuery({
    key: keys.classes,
    query: () => ask(api.GET('/api/classes')),
    // Of nobody it is asked, too: the answer leads to where one signs in.
    enabled: () => session.value !== undefined && session.value.person?.teacher !== false,
  })
}

/** One of them. */
export function useClass(classId: MaybeRefOrGetter<number>) {
  const { data } = useClasses()
  return computed(() => data.value?.find((found) => found.id === toValue(classId)))
}
