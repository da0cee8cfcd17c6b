/** Whose page this is: each tab is one person's, whoever signs in beside it. */
import { shallowRef } from 'vue'

export const PERSON_HEADER = 'jade-ladder-person'
const LEAVING = 'jade-ladder.leaving'

/** The person this tab belongs to; none before sign-in. */
export const tabPerson = shallowRef<number | null>(null)

let whenReplaced = () => {}

/** Say what to do when somebody else signs in, or this person signs out, in another tab. */
export function onReplaced(act: () => void): void {
  whenReplaced = act
}

const tabs = typeof document === 'undefined' ? null : new BroadcastChannel('jade-ladder')
tabs?.addEventListener('message', (event: MessageEvent<number | null>) => {
  if (tabPerson.value !== null && tabPerson.value !== event.data) whenReplaced()
})

/** Tell the other tabs who is signed in in this browser now. */
export function tellTabs(person: number | null): void {
  tabs?.postMessage(person)
}

/** Take what the server says of who is signed in: this tab's person, or somebody else by now. */
export function meet(person: number | null): void {
  if (tabPerson.value === null) tabPerson.value = person
  else if (person !== null && person !== tabPerson.value) whenReplaced()
}

/** Remember, through a reload too, that the session is to end before any other call. */
export function leave(): void {
  tabPerson.value = null
  try {
    localStorage.setItem(LEAVING, '1')
  } catch {
    stillLeaving = true
  }
  tellTabs(null)
}

/** What a storage that is full or closed did not take. */
let stillLeaving = false
let ending: Promise<void> | null = null

function isLeaving(): boolean {
  return stillLeaving || localStorage.getItem(LEAVING) !== null
}

async function end(): Promise<void> {
  const answer = await fetch('/api/session', { method: 'DELETE' })
  if (!answer.ok) throw new TypeError('the session is not ended yet')
  localStorage.removeItem(LEAVING)
  stillLeaving = false
}

/** Call the server; a session that was left ends first, or nothing is called at all. */
export async function fetchAfterLeaving(request: Request): Promise<Response> {
  if (isLeaving()) {
    ending ??= end().finally(() => (ending = null))
    await ending
  }
  return fetch(request)
}
