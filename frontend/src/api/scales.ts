import { useQuery } from '@pinia/colada'
import { api, ask } from './client'

export const scalesKey = ['scales']

/** The school's scales, with what uses them. */
export function useScales() {
  return useQuery({ key: scalesKey, query: () => ask(api.GET('/api/scales')) })
}
