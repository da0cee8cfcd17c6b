import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { TaskOut } from '@/api/schema'
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
        const { title, instructions, kind, rubric_id, due_at, own_points, practice } = gone
        const { closes_at, rubric_shown, late_per_day, late_most, student_ids, set_at } = gone
        const { attempts_rule, category, starting_text } = gone
        const body = {
          ...{ title, instructions, kind, rubric_id, due_at, practice, points: own_points },
          ...{ closes_at, rubric_shown, late_per_day, late_most, student_ids, attempts_rule },
          ...{ category, starting_text, set_at, draft: set_at === null },
        }
        const there = { class_id: classId }
        await ask(api.POST('/api/classes/{class_id}/tasks', { params: { path: there }, body }))
        await refresh()
      },
      undone: `${gone.title} is set again`,
    })
  }
}
