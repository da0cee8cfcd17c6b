import { api, ask, form } from '@/api/client'

/** A table as it is sent: by file or text, and what was chosen of it. */
export interface SentTable {
  text?: string
  file?: File
  sheet?: string
  /** Field to heading; empty: no column. */
  columns: Record<string, string>
  headed: '' | 'yes' | 'no'
  names: '' | 'given-first' | 'family-first'
  /** By line and field, the cells that were mended. */
  mended: Record<number, Record<string, string>>
}

export interface Imported {
  id: number
  added: number
  left_out: string
}

const options = (classId: number, sent: SentTable, more: Record<string, string> = {}) => ({
  params: { path: { class_id: classId } },
  // The generated body type is JSON's; the form is made by the serializer.
  body: {} as never,
  bodySerializer: () =>
    form({
      ...sent,
      ...more,
      columns: JSON.stringify(sent.columns),
      mended: JSON.stringify(sent.mended),
    }),
})
const leaveOut = (leave: boolean) => ({ leave_out: leave ? 'true' : 'false' })

/** The calls of importing a table: what it would do, doing it, and undoing it. */
export const sendTable = {
  students: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/students/list/preview', options(classId, sent))),
    import: (classId: number, sent: SentTable, leave: boolean): Promise<Imported> =>
      ask(
        api.POST('/api/classes/{class_id}/students/list', options(classId, sent, leaveOut(leave))),
      ),
    undo: (classId: number, entry: number) =>
      ask(
        api.DELETE('/api/classes/{class_id}/students/list/{entry_id}', {
          params: { path: { class_id: classId, entry_id: entry } },
        }),
      ),
  },
  outcomes: {
    preview: (classId: number, sent: SentTable) =>
      ask(api.POST('/api/classes/{class_id}/outcomes/list/preview', options(classId, sent))),
    import: (
      classId: number,
      sent: SentTable,
      leave: boolean,
      retire: boolean,
    ): Promise<Imported> => {
      const more = { retire_gone: retire ? 'true' : 'false', ...leaveOut(leave) }
      const path = '/api/classes/{class_id}/outcomes/list'
      return ask(api.POST(path, options(classId, sent, more)))
    },
  },
}
