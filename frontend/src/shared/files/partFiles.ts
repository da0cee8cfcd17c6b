/** What is fetched of the parts of work, and kept for a while: so the next student's is there already. */
import { api, ask, beingPrepared, Problem } from '@/api/client'
import type { ShownOut, WorkPartOut } from '@/api/schema'

const MOST = 24
/** Larger ones are fetched when they are looked at. */
const LARGEST_AHEAD = 20_000_000
const kept = new Map<string, Promise<unknown>>()

function remember<T>(key: string, fetch: () => Promise<T>): Promise<T> {
  const found = kept.get(key)
  if (found) {
    // What was looked at last goes last.
    kept.delete(key)
    kept.set(key, found)
    return found as Promise<T>
  }
  const asked = fetch()
  kept.set(key, asked)
  asked.catch(() => kept.delete(key))
  if (kept.size > MOST) kept.delete(kept.keys().next().value!)
  return asked
}

/** Where a part's file is; a student's own has an address of its own. */
export function addressOf(part: WorkPartOut, own: boolean, what = 'file'): string {
  return `/api/${own ? 'my/' : ''}work-parts/${part.id}/${what}`
}

/** Fetch a part's file, or a picture in it. */
export function fileOf(part: WorkPartOut, own: boolean, what = 'file'): Promise<Blob> {
  const address = addressOf(part, own, what)
  return remember(address, () => fetchFile(address))
}

/** Fetch a file from an address of the server. */
export async function fetchFile(address: string): Promise<Blob> {
  try {
    const answer = await fetch(address)
    if (answer.ok) return await answer.blob()
    const details = (await answer.json().catch(() => ({}))) as { detail?: string; type?: string }
    const message = details.detail ?? 'This file cannot be fetched.'
    throw new Problem(answer.status, message, [], null, details.type)
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem(0, 'The server does not answer. Try again in a moment.')
  }
}

/** Fetch what is shown of a document or a text. */
export function shownOf(part: WorkPartOut, own: boolean): Promise<ShownOut> {
  const path = { params: { path: { part_id: part.id } } }
  return remember(addressOf(part, own, 'shown'), async () => {
    const shown = await ask(
      own
        ? api.GET('/api/my/work-parts/{part_id}/shown', path)
        : api.GET('/api/work-parts/{part_id}/shown', path),
    )
    // Thrown, so that it is not kept.
    if (shown.preparing) throw beingPrepared()
    return shown
  })
}

const SHOWN = new Set(['document', 'text', 'markdown', 'table'])
const FETCHED = new Set(['pdf', 'picture'])
export const isShown = (part: WorkPartOut) => SHOWN.has(part.file_kind ?? '')
export const isFetched = (part: WorkPartOut) => FETCHED.has(part.file_kind ?? '')

/** Fetch ahead what will be looked at next; it matters to nobody here whether that went through. */
export function fetchAhead(parts: WorkPartOut[], own = false): void {
  for (const part of parts) {
    if (isShown(part)) shownOf(part, own).catch(() => {})
    else if (isFetched(part) && (part.size ?? 0) <= LARGEST_AHEAD)
      fileOf(part, own)
        .then(async (file) => {
          if (part.file_kind === 'pdf' && part === parts[0]) await openAhead(file)
        })
        .catch(() => {})
  }
}

/** What opens PDFs tells here how it does so ahead, once it is loaded. */
let pdfs: { openAhead: (file: Blob) => Promise<void>; closePdfs: () => void } | null = null
/** The PDF that came last while nothing could open it yet. */
let waiting: Blob | null = null

export function openPdfsBy(by: NonNullable<typeof pdfs>): void {
  pdfs = by
  if (waiting) void openAhead(waiting)
  waiting = null
}

async function openAhead(file: Blob) {
  if (pdfs) await pdfs.openAhead(file).catch(() => {})
  else waiting = file
}

/** Forget everything, as when somebody signs out. */
export function forgetFiles(): void {
  kept.clear()
  waiting = null
  pdfs?.closePdfs()
}
