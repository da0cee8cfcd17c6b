import { api, ask, form } from '@/api/client'

export interface SentTable {
  text?: string
  file?: File
  columns: Record<string, string>
}

const options = (classId: number, sent: SentTable) => ({
  params: { path: { class_id: classId } },
  // The generated body type is JSON's; the form is made by the serializer.
  body: {} as never,
  bodySerializer: () => form({ ...sent, columns: JSON.stringify(sent.columns) }),
})

/** The two calls of bringing in a table: what it would do, and doing it. */
export const sendTable = {
  students: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/students/list/preview', options(classId, sent))),
    bringIn: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/students/list', options(classId, sent))),
  },
  outcomes: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/outcomes/list/preview', options(classId, sent))),
    bringIn: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/outcomes/list', options(classId, sent))),
  },
}
