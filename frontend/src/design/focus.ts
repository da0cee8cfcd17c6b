/** Where the focus goes: into what opens, back to what opened it, to what was refused; never lost. */
import { nextTick, type Directive } from 'vue'

const FIELDS = ['input:not([type=hidden], [type=file])', 'select', 'textarea']
const CONTROLS = [...FIELDS, 'button', 'a[href]', 'summary', '[tabindex="0"]']

/** A control that was used, and its name: a page may draw it anew while what it opened is open. */
interface Way {
  element: HTMLElement
  name: string
}

let latest: Way | null = null
/** By what opened: what it was opened with, and what it stands in. */
const ways = new WeakMap<HTMLElement, { by: Way | null; place: HTMLElement | null }>()

function remember({ target }: Event) {
  const element = (target as HTMLElement | null)?.closest?.<HTMLElement>(CONTROLS.join(', '))
  if (element) latest = { element, name: nameOf(element) }
}
if (typeof document !== 'undefined') {
  document.addEventListener('focusin', remember, true)
  // Not every browser gives the focus to a button that is pressed.
  document.addEventListener('click', remember, true)
}

const nameOf = (element: HTMLElement) =>
  element.getAttribute('aria-label') ?? element.textContent?.trim() ?? ''

function firstOf(within: ParentNode, selectors: string[]): HTMLElement | undefined {
  const found = within.querySelectorAll<HTMLElement>(selectors.join(', '))
  return [...found].find((one) => !one.matches(':disabled') && one.getClientRects().length > 0)
}

function open(element: HTMLElement) {
  ways.set(element, { by: latest, place: element.parentElement })
  void nextTick(() => {
    if (element.matches(FIELDS.join(', '))) element.focus()
    else (firstOf(element, FIELDS) ?? firstOf(element, CONTROLS))?.focus()
  })
}

/** Whether the focus is on nothing. */
export const isLost = () => !document.activeElement || document.activeElement === document.body

/** Where nothing has the focus, the content has it. */
export function neverLost() {
  if (isLost()) document.getElementById('content')?.focus({ preventScroll: true })
}

/** To what opened it, or to what has its name now, or into what it stood in, or to the content. */
function back(element: HTMLElement) {
  if (!isLost()) return
  const { by, place } = ways.get(element) ?? {}
  if (by?.element.isConnected) by.element.focus()
  if (isLost() && by?.name) {
    const named = document.querySelectorAll<HTMLElement>('button, a[href]')
    ;[...named].find((one) => nameOf(one) === by.name)?.focus()
  }
  if (isLost() && place?.isConnected) firstOf(place, CONTROLS)?.focus()
  neverLost()
}

/**
 * What opens takes the focus into its first field, and gives it back to what opened it when it
 * closes. With a value, it opens anew whenever that becomes another; `false`: it did not open.
 */
export const vOpens: Directive<HTMLElement, unknown> = {
  mounted(element, { value }) {
    if (value !== false) open(element)
  },
  updated(element, { value, oldValue }) {
    if (value !== oldValue && value !== false) open(element)
  },
  beforeUnmount(element) {
    const held = isLost() || element.contains(document.activeElement)
    if (held && ways.has(element)) void nextTick(() => back(element))
  },
}

/** After a refusal, to the first field that is wrong. */
export async function toFirstWrong(): Promise<void> {
  await nextTick()
  const within = document.activeElement?.closest('form, section, aside')
  const wrong = '[aria-invalid="true"]'
  const found =
    within?.querySelector<HTMLElement>(wrong) ?? document.querySelector<HTMLElement>(wrong)
  found?.focus()
}

/** What an element scrolls in: the nearest around it that overflows, else the page. */
export function scrolling(element: Element): Element {
  for (let up = element.parentElement; up; up = up.parentElement) {
    const { overflowY } = getComputedStyle(up)
    if (overflowY !== 'visible' && overflowY !== 'clip' && up.scrollHeight > up.clientHeight + 4)
      return up
  }
  return document.scrollingElement!
}
