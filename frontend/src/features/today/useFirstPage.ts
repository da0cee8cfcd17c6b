import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

/** What waits and what is worth a look, over all of one's classes, as of now. */
export const useFirstPage = () =>
  useQuery({ key: keys.today, query: () => ask(api.GET('/api/today')), staleTime: 0 })
