import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import { several } from '@/design/format'
import { say } from '@/design/telling/messages'
import type { useSending } from '@/shared/forms/useSending'
import { keys } from '@/shared/queries'

/** What of a task does not count, and letting it count again. */
export function useSetAside(taskId: number, send: ReturnType<typeof useSending>['send']) {
  const path = { params: { path: { task_id: taskId } } }
  const { data } = useQuery({
    key: () => keys.setAside(taskId),
    query: () => ask(api.GET('/api/tasks/{task_id}/set-aside', path)),
  })
  /** Why the evidence of a student is set aside, where it is. */
  const asideOf = (id: number) => data.value?.find((one) => one.student_id === id)?.reason

  async function countAgain(student_ids: number[]): Promise<boolean> {
    const body = { student_ids, attempt: null, outcome_ids: null }
    const done = await send(() =>
      ask(api.POST('/api/tasks/{task_id}/counted-again', { ...path, body })),
    )
    if (done) say(`The evidence of ${several(student_ids.length, 'student')} counts again`)
    return done
  }

  return { asideOf, countAgain }
}
