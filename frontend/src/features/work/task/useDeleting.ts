import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { TaskOut } from '@/api/schema'
import { asSent } from '@/features/work/form/taskWords'
import { say } from '@/design/telling/messages'

type Send = (work: () => Promise<unknown>) => Promise<boolean>

/** Deleting a task that nobody has touched; undone, it is set again. */
export function useDeleting(classId: number, send: Send, refresh: () => Promise<unknown>) {
  const router = useRouter()
  return async (gone: TaskOut) => {
    const path = { params: { path: { task_id: gone.id } } }
    if (!(await send(() => ask(api.DELETE('/api/tasks/{task_id}', path))))) return
    await router.push({ name: 'tasks', params: { classId } })
    await refresh()
    say(`${gone.title} is deleted`, {
      work: async () => {
        const there = { class_id: classId }
        await ask(
          api.POST('/api/classes/{class_id}/tasks', {
            params: { path: there },
            body: asSent(gone),
          }),
        )
        await refresh()
      },
      undone: `${gone.title} is set again`,
    })
  }
}
