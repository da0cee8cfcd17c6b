import { api, ask } from '@/api/client'

/** Undo changes of method by their numbers in the log: what held before holds again, on every day. */
export async function undoMethods(classId: number, entries: number[]) {
  if (!entries.length) return
  await ask(
    api.POST('/api/classes/{class_id}/method/undo', {
      params: { path: { class_id: classId } },
      body: { entries },
    }),
  )
}
