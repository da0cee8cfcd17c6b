import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import type { LevelOut } from '@/api/schema'

/** A scale as it is being written. */
export interface ScaleDraft {
  name: string
  mastery_level: number
  levels: LevelOut[]
}

/** The ready scales to begin from, of two levels and more. */
export function usePresets() {
  return useQuery({
    key: keys.presets,
    query: () => ask(api.GET('/api/scales/presets')),
  })
}
