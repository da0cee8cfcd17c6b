/** The one message at the foot of the page: what was done, and the way to undo it. */
import { shallowRef } from 'vue'

interface Message {
  text: string
  /** A person has to act: something was not done. */
  clay?: boolean
  undo?: Undo
}

/** How something is undone; `undone` says that it was. */
interface Undo {
  work: () => Promise<unknown>
  undone: string
}

export const message = shallowRef<Message | null>(null)

/** Say what was done. It goes by itself, or, where it can be undone, when something else is done. */
export function say(text: string, undo?: Undo): void {
  message.value = { text, undo }
}

/** Say that something needs a person. */
export function warn(text: string): void {
  message.value = { text, clay: true }
}

/** What was said is no longer so, or no longer of interest. */
export function unsay(): void {
  message.value = null
}
