import { ref } from 'vue'
import type { TaskEffectsOut } from '@/api/schema'

/**
 * What a change would do to marks is shown before it is made: `seen` fetches it, and gives whether
 * the change can go ahead: nothing moves, or what moves was shown for this very change.
 */
export function useEffects() {
  const effects = ref<TaskEffectsOut | null>(null)
  let shownFor = ''

  async function seen(change: object, fetch: () => Promise<TaskEffectsOut>): Promise<boolean> {
    const key = JSON.stringify(change)
    if (effects.value && shownFor === key) return true
    const found = await fetch()
    const { totals, late, not_late, levels } = found
    const moves =
      totals.length + late.length + not_late.length + levels.classes.length + levels.elsewhere
    effects.value = moves ? found : null
    shownFor = key
    return !moves
  }

  return { effects, seen }
}
