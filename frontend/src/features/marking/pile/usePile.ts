import { useQuery } from '@pinia/colada'
import { useLocalStorage } from '@vueuse/core'
import { api, ask } from '@/api/client'
import type { PileOut } from '@/api/schema'
import { keys } from '@/shared/queries'

/** Whether marking goes on with the next task by itself, once one is done. */
export const useGoingOn = () => useLocalStorage('jade-ladder.desk.going-on', false)

export const fetchPile = (): Promise<PileOut> => ask(api.GET('/api/pile'))

/** All that waits to be marked, in every class one teaches. */
export const usePile = () => useQuery({ key: keys.pile, query: fetchPile, staleTime: 0 })
