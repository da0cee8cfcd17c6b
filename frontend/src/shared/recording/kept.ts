/** Recordings as they are made: kept in the browser second by second until the server has them. */
import { createStore, del, entries, get, keys, set, type UseStore } from 'idb-keyval'

/** Where a recording belongs, and how far it is. */
export interface Kept {
  /** Its own, through everything that follows. */
  key: string
  person: number
  taskId: number
  studentId: number
  attempt: number
  criterionId: number | null
  passageKey: string | null
  /** For an observation note that is not written yet, and no mark. */
  note?: boolean
  /** A file that was chosen, by its name; else it is a recording. */
  name?: string
  type: string
  startedAt: string
  seconds: number
  /** Ended by whoever made it; else the page was left while it was made. */
  ended: boolean
}

let opened: UseStore | null = null
const store = () => (opened ??= createStore('jade-ladder-recordings', 'pieces'))
const headOf = (key: string) => `${key} head`
const pieceOf = (key: string, number: number) => `${key} ${String(number).padStart(5, '0')}`

/** Note a recording, or how far it is by now. */
export const keepHead = (one: Kept) => set(headOf(one.key), one, store())

export const keepPiece = (key: string, number: number, piece: Blob) =>
  set(pieceOf(key, number), piece, store())

/** All recordings for marks of a person that are still here, the oldest first. */
export const keptBy = async (person: number) => (await everyKept(person)).filter((one) => !one.note)

/** Those for observation notes. */
export const keptNotes = async (person: number) =>
  (await everyKept(person)).filter((one) => one.note)

async function everyKept(person: number): Promise<Kept[]> {
  const all = await entries<string, unknown>(store())
  return all
    .flatMap(([key, value]) => (key.endsWith(' head') ? [value as Kept] : []))
    .filter((one) => one.person === person)
    .sort((a, b) => (a.startedAt < b.startedAt ? -1 : 1))
}

/** A recording as one file, of the pieces that are here. */
export async function fileOf(one: Kept): Promise<File> {
  const all = await keys<string>(store())
  const own = all.filter((key) => key.startsWith(`${one.key} `) && key !== headOf(one.key)).sort()
  const pieces = await Promise.all(own.map((key) => get<Blob>(key, store())))
  return fileFrom(
    one,
    pieces.filter((piece) => piece !== undefined),
  )
}

/** The file of a recording, named by when it was begun. */
export function fileFrom(one: Kept, pieces: Blob[]): File {
  if (one.name) return new File(pieces, one.name, { type: one.type })
  const ending = one.type.includes('mp4') ? 'm4a' : one.type.includes('ogg') ? 'ogg' : 'webm'
  const when = one.startedAt.slice(0, 16).replace('T', ' ').replace(':', '.')
  return new File(pieces, `Spoken remark ${when}.${ending}`, { type: one.type })
}

/** Forget a recording: the server has it, or it is not wanted. */
export async function drop(key: string): Promise<void> {
  const all = await keys<string>(store())
  const own = all.filter((one) => one.startsWith(`${key} `))
  await Promise.all(own.map((one) => del(one, store())))
}

/** Forget all recordings of a person. */
export async function dropAll(person: number): Promise<void> {
  for (const one of await everyKept(person)) await drop(one.key)
}
