/** Several controls that are one stop of Tab: the arrow keys go between them. */
import type { Directive } from 'vue'

const CONTROLS = 'button, input, textarea, select, a[href], [role=checkbox]'
const STEPS: Record<string, Record<string, number>> = {
  row: { ArrowLeft: -1, ArrowRight: 1 },
  column: { ArrowUp: -1, ArrowDown: 1 },
}

const controls = (within: HTMLElement) =>
  [...within.querySelectorAll<HTMLElement>(CONTROLS)].filter(
    (one) => !one.matches(':disabled') && !one.closest('[popover]'),
  )

/** Make one of them the stop: the one that has it, else the one marked `data-stop`, else the first. */
function arrange(within: HTMLElement, stop?: HTMLElement) {
  const all = controls(within)
  const now =
    stop ??
    all.find((one) => one.tabIndex === 0 && one.dataset.arranged) ??
    all.find((one) => 'stop' in one.dataset) ??
    all[0]
  for (const one of all) {
    one.tabIndex = one === now ? 0 : -1
    one.dataset.arranged = 'true'
  }
}

/** Whether an arrow key still moves within the text of a field. */
function movesInText(target: HTMLElement, step: number): boolean {
  if (!(target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement)) return false
  const { selectionStart: from, selectionEnd: to, value } = target
  if (from === null) return false
  return step < 0 ? from > 0 || to !== from : to !== value.length || to !== from
}

/** `v-one-stop:row` or `v-one-stop:column`, by which arrow keys move. */
export const vOneStop: Directive<HTMLElement, undefined, string, 'row' | 'column'> = {
  mounted(element, { arg = 'row' }) {
    arrange(element)
    element.addEventListener('focusin', ({ target }) => {
      if (controls(element).includes(target as HTMLElement)) arrange(element, target as HTMLElement)
    })
    element.addEventListener('keydown', (event) => {
      const step = STEPS[arg]?.[event.key]
      const target = event.target as HTMLElement
      const all = controls(element)
      if (!step || event.defaultPrevented || !all.includes(target)) return
      const single = target instanceof HTMLInputElement && arg === 'column'
      if (!single && movesInText(target, step)) return
      const to = all[all.indexOf(target) + step]
      if (!to) return
      event.preventDefault()
      to.focus()
    })
  },
  updated: (element) => arrange(element),
}
