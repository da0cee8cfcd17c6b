/**
 * What was typed into a form and is not saved, kept in this tab for its person: through a reload, and
 * through whatever else is opened meanwhile.
 */
import { tabPerson } from '@/api/person'

const PREFIX = 'jade-ladder.typed.'
const key = (form: string) => `${PREFIX}${tabPerson.value ?? 0}.${form}`

export interface Typed {
  /** The version that it was typed over. */
  version: number
  body: object
}

export function keep(form: string | null, typed: Typed): void {
  if (form === null) return
  try {
    sessionStorage.setItem(key(form), JSON.stringify(typed))
  } catch {
    // A storage that is full or closed keeps nothing; the form itself still has it.
  }
}

export function forget(form: string | null): void {
  if (form === null) return
  try {
    sessionStorage.removeItem(key(form))
  } catch {
    // There is nothing to forget.
  }
}

export function kept(form: string | null): Typed | null {
  if (form === null) return null
  try {
    return JSON.parse(sessionStorage.getItem(key(form)) ?? 'null') as Typed | null
  } catch {
    return null
  }
}

/** Who signs out leaves nothing behind. */
export function forgetAll(): void {
  for (const one of Object.keys(sessionStorage)) {
    if (one.startsWith(PREFIX)) sessionStorage.removeItem(one)
  }
}
