import { useQuery, useQueryCache } from '@pinia/colada'
import { classesKey } from '@/api/classes'
import { api, ask } from '@/api/client'
import { scalesKey } from '@/api/scales'
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
    key: [...scalesKey, 'presets'],
    query: () => ask(api.GET('/api/scales/presets')),
  })
}

/** Forget all that is worked out by scales: every class, wall and rubric. */
export function useScalesChanged() {
  const cache = useQueryCache()
  return async () => {
    await Promise.all([
      cache.invalidateQueries({ key: scalesKey }),
      cache.invalidateQueries({ key: classesKey }),
      ...['outcomes', 'wall'].map((key) => cache.invalidateQueries({ key: [key] }, 'all')),
    ])
  }
}
