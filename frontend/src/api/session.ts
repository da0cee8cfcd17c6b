import { useQuery, useQueryCache } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'

export const sessionKey = ['session']

/** Who is signed in, and the school's time zone. */
export function useSession() {
  const query = useQuery({
    key: sessionKey,
    query: () => ask(api.GET('/api/session')),
    staleTime: 60_000,
  })
  const timeZone = computed(() => query.data.value?.time_zone ?? 'UTC')
  return { ...query, timeZone }
}

/** Sign out, forgetting everything that was loaded. */
export function useSignOut() {
  const cache = useQueryCache()
  return async () => {
    await ask(api.DELETE('/api/session'))
    cache.getEntries({}).forEach((entry) => cache.remove(entry))
    location.assign('/sign-in')
  }
}
