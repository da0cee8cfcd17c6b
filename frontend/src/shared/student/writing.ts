/**
 * What a student writes and the server has not got yet: kept in this browser under their number, so
 * that nobody else who signs in here sees or sends it, until it is saved, or deleted at signing out.
 */
import { tabPerson } from '@/api/person'

const PREFIX = 'jade-ladder.writing.'
const mine = () => `${PREFIX}${tabPerson.value ?? 0}.`

export interface Unsent {
  text: string
  /** The version of the draft that it was written over. */
  version: number
}

export function keepUnsent(taskId: number, unsent: Unsent): boolean {
  try {
    localStorage.setItem(`${mine()}${taskId}`, JSON.stringify(unsent))
    return true
  } catch {
    return false
  }
}

export function unsentOf(taskId: number): Unsent | null {
  try {
    return JSON.parse(localStorage.getItem(`${mine()}${taskId}`) ?? 'null') as Unsent | null
  } catch {
    return null
  }
}

export function forgetUnsent(taskId: number): void {
  try {
    localStorage.removeItem(`${mine()}${taskId}`)
  } catch {
    // There is nothing to forget.
  }
}

const keysOfMine = () => Object.keys(localStorage).filter((key) => key.startsWith(mine()))

/** Whether anything of this person's has not reached the server. */
export function hasUnsent(): boolean {
  return keysOfMine().length > 0
}

export function deleteUnsent(): void {
  for (const key of keysOfMine()) localStorage.removeItem(key)
}

/** Count words as the receipt does: what stands between blanks and has a letter or digit in it. */
export function countWords(text: string): number {
  return text.split(/\s+/u).filter((word) => /[\p{L}\p{N}]/u.test(word)).length
}
