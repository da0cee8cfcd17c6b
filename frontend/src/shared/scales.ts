import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import { keys } from './queries'

/** The school's scales, with what uses them. */
export function useScales() {
  return useQuery({ key: keys.scales, query: () => ask(api.GET('/api/scales')) })
}
