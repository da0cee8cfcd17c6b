import { api, ask } from '@/api/client'
import type { JudgedIn } from '@/api/schema'

/** What can be done with judgements; each answers with the number by which it is undone. */
export const judging = {
  async judge(classId: number, levels: JudgedIn[], reason: string, since: string | null) {
    const path = { class_id: classId }
    const body = { levels, reason, since }
    return (await ask(api.POST('/api/classes/{class_id}/judgements', { params: { path }, body })))
      .entry
  },
  undo: (classId: number, entry: number) =>
    ask(
      api.POST('/api/classes/{class_id}/judgements/undo', {
        params: { path: { class_id: classId } },
        body: { entry },
      }),
    ),
  async lift(classId: number, id: number) {
    const path = { class_id: classId, judgement_id: id }
    const at = '/api/classes/{class_id}/judgements/{judgement_id}/lift'
    return (await ask(api.POST(at, { params: { path }, body: {} }))).entry
  },
  undoLifting: (classId: number, entry: number) =>
    ask(
      api.POST('/api/classes/{class_id}/judgements/undo-lifting', {
        params: { path: { class_id: classId } },
        body: { entry },
      }),
    ),
  keep: (classId: number, id: number) =>
    ask(
      api.POST('/api/classes/{class_id}/judgements/{judgement_id}/keep', {
        params: { path: { class_id: classId, judgement_id: id } },
      }),
    ),
}
