import { api, ask, asProblem } from '@/api/client'
import { say, warn } from '@/design/telling/messages'

/** What goes out as data: a class as of a day (today where none is said), or a task as it is now. */
type Exported = { classId: number; asOf?: string } | { taskId: number }

const FORMS = [
  { text: 'Workbook (XLSX)', form: 'xlsx', comma: false, called: 'The workbook' },
  { text: 'CSV files (ZIP)', form: 'zip', comma: false, called: 'The archive of CSV files' },
  {
    text: 'CSV files with decimal commas',
    form: 'zip',
    comma: true,
    called: 'The archive of CSV files',
  },
] as const

/** The entries of a menu that download an export, which is made when one is chosen. */
export const exportEntries = (of: Exported) =>
  FORMS.map((one) => ({ text: one.text, act: () => download(of, one) }))

/** Fetch what takes a while to make, saying so, and hand it to the browser's downloads. */
async function download(of: Exported, { form, comma, called }: (typeof FORMS)[number]) {
  say(`${called} is being made …`)
  const call =
    'taskId' in of
      ? api.GET('/api/tasks/{task_id}/export', {
          params: { path: { task_id: of.taskId }, query: { form, comma } },
          parseAs: 'blob',
        })
      : api.GET('/api/classes/{class_id}/export', {
          params: {
            path: { class_id: of.classId },
            query: { form, comma, as_of: of.asOf || undefined },
          },
          parseAs: 'blob',
        })
  try {
    const file = (await ask(call)) as Blob
    const { response } = await call
    const link = document.createElement('a')
    link.href = URL.createObjectURL(file)
    link.download = nameIn(response.headers.get('content-disposition') ?? '')
    link.click()
    // The browser reads it after the press.
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
    say(`${called} is downloaded: ${link.download}`)
  } catch (error) {
    warn(`${called} was not made. ${asProblem(error).message}`)
  }
}

const nameIn = (disposition: string) =>
  decodeURIComponent(/filename\*=UTF-8''([^;]+)/.exec(disposition)?.[1] ?? 'export')
