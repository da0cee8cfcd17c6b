import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { PileOut } from '@/api/schema'
import { say } from '@/design/telling/messages'
import { fetchPile, useGoingOn } from '@/features/marking/pile/usePile'

/** Of this task nobody waits any more: what waits elsewhere, or, where one wants it, go on there. */
export function useNextTask(taskId: number) {
  const router = useRouter()
  const elsewhere = ref<PileOut['tasks'][number] | null>(null)
  const goingOn = useGoingOn()

  async function goOn() {
    try {
      const { tasks } = await fetchPile()
      elsewhere.value = tasks.find((one) => one.id !== taskId) ?? null
    } catch {
      return
    }
    const there = elsewhere.value
    if (!there || !goingOn.value) return
    await router.push({ name: 'desk', params: { classId: there.class_id, taskId: there.id } })
    say(`On with ${there.title}`)
  }

  return { elsewhere, goOn }
}
