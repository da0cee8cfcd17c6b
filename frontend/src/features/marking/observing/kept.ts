/**
 * The class at hand, kept in this browser for its person, so that observing goes on without a
 * server; it goes when they sign out.
 */
import { createStore, del, get, keys, set, type UseStore } from 'idb-keyval'
import type { ObservationOut } from '@/api/schema'
import type { Choice } from './seen'

/** A tap that can be undone: what stood before it, and what it made of it. */
export interface Undoable {
  /** Taps of one press, which are undone together. */
  press: string
  studentId: number
  criterionId: number | null
  from: Choice | boolean
  to: Choice | boolean
  /** What stood before was carried over. */
  carried?: boolean
}

interface KeptClass {
  found: ObservationOut
  /** When the server gave it, by this device's clock, in milliseconds. */
  at: number
  undo: Undoable[]
}

interface Observer {
  person: number
  timeZone: string
  language: string
}

const OBSERVER = 'jade-ladder.observer'
let opened: UseStore | null = null
const store = () => (opened ??= createStore('jade-ladder-observing', 'classes'))
const keyOf = (person: number, taskId: number) => `${person} ${taskId}`

/** Who observed last in this browser, and has not signed out. */
export function observer(): Observer | null {
  try {
    return JSON.parse(localStorage.getItem(OBSERVER) ?? 'null') as Observer | null
  } catch {
    return null
  }
}

export function keepObserver(one: Observer): void {
  try {
    localStorage.setItem(OBSERVER, JSON.stringify(one))
  } catch {
    // Without room the page works as long as it is open.
  }
}

export const keepClass = (person: number, taskId: number, kept: KeptClass) =>
  set(keyOf(person, taskId), kept, store())

export const keptClass = (person: number, taskId: number) =>
  get<KeptClass>(keyOf(person, taskId), store())

/** Somebody is signed in: what another one observed in this browser is not theirs to see. */
export async function forgetOthers(person: number): Promise<void> {
  const other = observer()
  if (!other || other.person === person) return
  localStorage.removeItem(OBSERVER)
  const all = await keys<string>(store())
  await Promise.all(
    all.filter((key) => !key.startsWith(`${person} `)).map((key) => del(key, store())),
  )
}

/** Forget the classes at hand of a person who signs out. */
export async function forgetClasses(person: number): Promise<void> {
  localStorage.removeItem(OBSERVER)
  const all = await keys<string>(store())
  await Promise.all(
    all.filter((key) => key.startsWith(`${person} `)).map((key) => del(key, store())),
  )
}
