import { useQuery, useQueryCache } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from './queries'
import { meet, tabPerson, tellTabs } from '@/api/person'

/** Who is signed in, and the school's time zone. */
export function useSession() {
  const query = useQuery({
    key: keys.session,
    query: async () => {
      const session = await ask(api.GET('/api/session'))
      meet(session.person?.id ?? null)
      return session
    },
    staleTime: 60_000,
  })
  const timeZone = computed(() => query.data.value?.time_zone ?? 'UTC')
  return { ...query, timeZone }
}

/** Forget everything that was loaded: what another person must not see. */
export function useForgetting() {
  const cache = useQueryCache()
  return () => {
    for (const entry of cache.getEntries({})) {
      cache.cancel(entry)
      // Who is signed in is shown by the page one goes to, and asked anew there.
      if (entry.key[0] === keys.session[0]) cache.setQueryData(entry.key, undefined)
      else cache.remove(entry)
    }
    // Without a server it is asked again later.
    cache.invalidateQueries({ key: keys.session }).catch(() => {})
  }
}

/** Somebody has just signed in here: nothing that was asked before stands, not even its error. */
export function useEntering() {
  const cache = useQueryCache()
  return async () => {
    tabPerson.value = null
    for (const entry of cache.getEntries({})) {
      if (entry.key[0] === keys.session[0]) continue
      cache.cancel(entry)
      cache.remove(entry)
    }
    await cache.invalidateQueries({ key: keys.session })
    tellTabs(tabPerson.value)
  }
}
