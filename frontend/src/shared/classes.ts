import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from './queries'
import { longDay, several, today } from '@/design/format'
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

/** Why nobody is in a class today: nobody is in its list, or those who are come later. */
export function useNobody(classId: MaybeRefOrGetter<number>) {
  const klass = useClass(classId)
  const { timeZone } = useSession()
  /** How many are in the list of a class that nobody is in today. */
  const coming = computed(() => klass.value?.students ?? 0)
  const why = computed(() => {
    if (!klass.value || !coming.value) return 'Nobody is in the class yet'
    const { first_day } = klass.value
    const many = several(coming.value, 'student is', 'students are')
    return first_day > today(timeZone.value)
      ? `The class begins on ${longDay(first_day)}: ${many} in its list`
      : `Nobody is in the class today: ${many} in its list, and come later`
  })
  return { coming, why }
}
