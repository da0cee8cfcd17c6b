import { watchDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { asProblem } from '@/api/client'
import type { ClassListOut } from '@/api/schema'
import { useKeptText } from '@/shared/forms/useKeptText'
import { useSending } from '@/shared/forms/useSending'
import type { Imported, SentTable } from './sendTable'

/** What every list that was read has; its lines have a text for each field, too. */
export type PreviewLike = Omit<ClassListOut, 'lines'> & {
  lines: { number: number; status: string; problem: string; field: string }[]
}

/** A table on its way in: its text or file, what is chosen and mended of it, and what it would do. */
export function useTableImport<Preview extends PreviewLike>(of: {
  form: string
  fields: string[]
  preview: (sent: SentTable) => Promise<Preview>
  importIt: (sent: SentTable, leaveOut: boolean) => Promise<Imported>
}) {
  const { text, used } = useKeptText(of.form)
  const choices = reactive<Omit<SentTable, 'text' | 'file' | 'sheet'>>({
    columns: {},
    headed: '',
    names: '',
    mended: {},
  })
  /** A spreadsheet stays at hand for its other sheets; its cells become the text. */
  const file = ref<File | null>(null)
  const sheet = ref('')
  const sheets = ref<string[]>([])
  const read = ref<Preview | null>(null)
  const { problem, busy, send } = useSending()
  let newest = 0
  /** The text that was read last: what differs from it was typed or pasted since. */
  let known = ''
  /** A file or text is being read. */
  const looking = ref(false)

  async function look(from?: File) {
    const number = ++newest
    problem.value = null
    if (!from) known = text.value
    if (!from && !text.value.trim()) {
      read.value = null
      return
    }
    looking.value = true
    try {
      const sent = from ? { file: from, sheet: sheet.value } : { text: text.value }
      const answer = await of.preview({ ...sent, ...choices })
      if (number !== newest) return
      read.value = answer
      if (from) {
        sheet.value = answer.sheet
        sheets.value = answer.sheets
        text.value = known = answer.text
      }
    } catch (error) {
      if (number !== newest) return
      problem.value = asProblem(error)
      read.value = null
    } finally {
      if (number === newest) looking.value = false
    }
  }

  /** What was chosen and mended is of a table that is here no longer. */
  function begin() {
    Object.assign(choices, { columns: {}, headed: '', names: '', mended: {} })
  }

  function pick(picked: File) {
    begin()
    read.value = null
    file.value = picked
    sheet.value = ''
    sheets.value = []
    void look(picked)
  }

  function pickSheet(name: string) {
    begin()
    read.value = null
    sheet.value = name
    if (file.value) void look(file.value)
  }

  /** Mend a cell of a line: the whole line is then as it is shown. */
  function mend(line: Preview['lines'][number], field: string, typed: string) {
    const now = line as unknown as Record<string, unknown>
    const before =
      choices.mended[line.number] ??
      Object.fromEntries(of.fields.map((name) => [name, String(now[name] ?? '')]))
    choices.mended = { ...choices.mended, [line.number]: { ...before, [field]: typed } }
  }

  watchDebounced(
    text,
    (now) => {
      if (now !== known) void look()
    },
    { debounce: 350 },
  )
  // Before there is a text, there is nothing to choose of it: its file is being read.
  watchDebounced(choices, () => void (read.value && look()), { debounce: 250, deep: true })
  watch(text, (now, before) => {
    // Numbers of lines are of the text that was there.
    if (before && now !== known) choices.mended = {}
  })
  if (text.value) void look()

  const ready = computed(
    () => !busy.value && !!read.value && !read.value.needed && !!read.value.text.trim(),
  )

  /** Import what is read. What was left out stays, to be mended. Gives what it did, if it did. */
  async function apply(leaveOut: boolean): Promise<Imported | null> {
    let done: Imported | null = null
    await send(async () => {
      done = await of.importIt({ text: text.value, ...choices }, leaveOut)
    })
    const answered = done as Imported | null
    if (!answered) return null
    begin()
    used()
    text.value = answered.left_out
    read.value = null
    sheets.value = []
    return answered
  }

  return {
    text,
    choices,
    sheet,
    sheets,
    read,
    looking,
    problem,
    busy,
    ready,
    pick,
    pickSheet,
    mend,
    apply,
  }
}
