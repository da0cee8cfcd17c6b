import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

/** What the students of a task have handed in, and what they see of their marks. */
export function useHandingBack(taskId: number) {
  const path = { params: { path: { task_id: taskId } } }
  const { data: rows } = useQuery({
    key: () => keys.handingBack(taskId),
    query: () => ask(api.GET('/api/tasks/{task_id}/handing-back', path)),
  })
  const { data: handingIn } = useQuery({
    key: () => keys.handingIn(taskId),
    query: () => ask(api.GET('/api/tasks/{task_id}/handing-in', path)),
  })
  const backOf = (id: number) => rows.value?.find((one) => one.student_id === id)
  const ready = computed(() => rows.value?.filter((one) => one.ready).length ?? 0)

  /** How many have begun and not handed in. */
  const begun = computed(
    () => handingIn.value?.filter((one) => one.drafted_at && !one.times).length ?? 0,
  )

  /** How far a student is who has handed nothing in, or how often they did. */
  function howFar(id: number): string {
    const found = handingIn.value?.find((one) => one.student_id === id)
    if (!found) return ''
    if (found.times) return found.times > 1 ? `handed in ${found.times} times` : ''
    return found.drafted_at ? 'has begun' : 'has opened it'
  }

  const takeBack = (student: number) =>
    ask(api.POST('/api/tasks/{task_id}/taken-back', { ...path, body: { student_ids: [student] } }))

  return { rows, backOf, ready, begun, howFar, takeBack }
}
