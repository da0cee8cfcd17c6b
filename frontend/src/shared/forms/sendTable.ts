import { api, ask, form } from '@/api/client'

export interface SentTable {
  text?: string
  file?: File
  columns: Record<string, string>
}

const options = (classId: number, sent: SentTable, more: Record<string, string> = {}) => ({
  params: { path: { class_id: classId } },
  // The generated body type is JSON's; the form is made by the serializer.
  body: {} as never,
  bodySerializer: () => form({ ...sent, ...more, columns: JSON.stringify(sent.columns) }),
})

/** The two calls of importing a table: what it would do, and doing it. */
export const sendTable = {
  students: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/students/list/preview', options(classId, sent))),
    import: async (classId: number, sent: SentTable) =>
      (await ask(api.POST('/api/classes/{class_id}/students/list', options(classId, sent)))).added,
  },
  outcomes: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/outcomes/list/preview', options(classId, sent))),
    /** Gives the entry of the import, by which it can be undone. */
    import: async (classId: number, sent: SentTable, retire: boolean) => {
      const more = { retire_gone: retire ? 'true' : '' }
      const path = '/api/classes/{class_id}/outcomes/list'
      return (await ask(api.POST(path, options(classId, sent, more)))).id
    },
  },
}
