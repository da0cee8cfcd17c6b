import { api, ask } from '@/api/client'
import type { StudentAtTaskOut } from '@/api/schema'
import { say } from '@/design/telling/messages'
import { several } from '@/design/format'

type Send = (work: () => Promise<unknown>) => Promise<boolean>

/** Excusing from a task: what that does to what is marked is said, and can be undone. */
export function useExcusing(taskId: number, send: Send, refresh: () => Promise<unknown>) {
  const set = (studentId: number, excused: boolean) =>
    ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/excused', {
        params: { path: { task_id: taskId, student_id: studentId } },
        body: { excused },
      }),
    )

  /** Excuse a student, or no longer. */
  async function excuse(student: StudentAtTaskOut) {
    const excused = student.state !== 'excused'
    if (!(await send(() => set(student.id, excused)))) return
    const marked = student.finished ? '; the mark no longer counts as evidence' : ''
    say(excused ? `${student.name} is excused${marked}` : `${student.name} is no longer excused`, {
      work: async () => {
        await set(student.id, !excused)
        await refresh()
      },
      undone: excused ? `${student.name} is not excused` : `${student.name} is excused again`,
    })
  }

  /** Excuse several, or no longer, at once; gives whether that was done. */
  async function excuseAll(students: StudentAtTaskOut[], excused: boolean): Promise<boolean> {
    const those = students.filter((one) => (one.state === 'excused') !== excused)
    const all = (to: boolean) => Promise.all(those.map((one) => set(one.id, to)))
    if (!(await send(() => all(excused)))) return false
    const who = several(those.length, 'student')
    const marked = excused && those.some((one) => one.finished)
    const but = marked ? '; marks of theirs no longer count as evidence' : ''
    say(excused ? `${who} excused${but}` : `${who} no longer excused`, {
      work: async () => {
        await all(!excused)
        await refresh()
      },
      undone: excused ? `${who} not excused` : `${who} excused again`,
    })
    return true
  }

  return { excuse, excuseAll }
}
