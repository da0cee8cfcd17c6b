import { ref } from 'vue'
import { asProblem, type Problem } from '@/api/client'
import { unsay } from '@/design/telling/messages'
import { toFirstWrong } from '@/design/focus'

/**
 * Send something to the server: what it refuses is the `problem` to show, what it changed is fetched
 * anew by `refresh`, and so is what somebody else changed in between. Gives whether it was done.
 */
export function useSending(refresh: () => Promise<unknown> = async () => {}) {
  const problem = ref<Problem | null>(null)
  const busy = ref(false)

  async function send(work: () => Promise<unknown>): Promise<boolean> {
    problem.value = null
    unsay()
    busy.value = true
    try {
      await work()
      await refresh()
      return true
    } catch (error) {
      problem.value = asProblem(error)
      if (problem.value.errors.length) void toFirstWrong()
      if (problem.value.stale) await refresh()
      return false
    } finally {
      busy.value = false
    }
  }

  return { problem, busy, send }
}
