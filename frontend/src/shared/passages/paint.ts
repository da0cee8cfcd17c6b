/** Passages in the words of the page: each stretch in a <mark>, and its number behind it. */
import { NUMBER_CLASS, type Stretch, type Words } from './words'

export interface Painted extends Stretch {
  key: string
  number: number
  /** What a screen reader says of the number. */
  label: string
}

/** Take the passages out of an element: its words are as they came. */
export function wipe(root: HTMLElement): void {
  const marks = root.querySelectorAll(`mark[data-passages], .${NUMBER_CLASS}`)
  if (!marks.length) return
  const changed = new Set<Node>()
  for (const mark of marks) {
    if (mark.parentNode) changed.add(mark.parentNode)
    if (mark.classList.contains(NUMBER_CLASS)) mark.remove()
    else mark.replaceWith(...mark.childNodes)
  }
  changed.forEach((one) => one.normalize())
}

/** Put passages into an element's words; several may cover the same. */
export function paint(words: Words, passages: Painted[], linked: boolean): void {
  const coming = [...passages].sort((a, b) => a.from - b.from)
  const edges = [...new Set(passages.flatMap((one) => [one.from, one.to]))].sort((a, b) => a - b)
  const begun = new Set<string>()
  let open: Painted[] = []
  let edge = 0
  for (const { node, from } of words.nodes) {
    const end = from + node.data.length
    let rest = node
    for (let at = from; at < end;) {
      while (edge < edges.length && edges[edge]! <= at) edge++
      const to = Math.min(end, edges[edge] ?? end)
      const piece = rest
      if (to < end) rest = piece.splitText(to - at)
      while (coming[0] && coming[0].from <= at) open.push(coming.shift()!)
      let last: ChildNode = piece
      // Blanks between blocks and cells are no place for a mark.
      if (open.length && piece.data.trim()) last = wrap(piece, open, begun)
      for (const one of open.filter((passage) => passage.to <= to)) {
        const number = numberOf(one, linked)
        last.after(number)
        last = number
      }
      open = open.filter((passage) => passage.to > to)
      at = to
    }
  }
}

function wrap(piece: Text, open: Painted[], begun: Set<string>): HTMLElement {
  const mark = document.createElement('mark')
  mark.dataset.passages = open.map((one) => one.key).join(' ')
  mark.classList.toggle('several', open.length > 1)
  const first = open.find((one) => !begun.has(one.key))
  if (first) mark.id = passageId(first.key)
  open.forEach((one) => begun.add(one.key))
  piece.replaceWith(mark)
  mark.append(piece)
  return mark
}

function numberOf(one: Painted, linked: boolean): HTMLElement {
  const number = document.createElement(linked ? 'a' : 'button')
  number.className = NUMBER_CLASS
  number.textContent = String(one.number)
  number.dataset.passage = one.key
  number.setAttribute('aria-label', one.label)
  number.contentEditable = 'false'
  if (linked) number.setAttribute('href', `#${remarkId(one.key)}`)
  else number.tabIndex = -1
  return number
}

/** Say of the numbers that stand there what they are now. */
export function renumber(root: HTMLElement, passages: Painted[]): void {
  const now = new Map(passages.map((one) => [one.key, one]))
  for (const number of root.querySelectorAll<HTMLElement>(`.${NUMBER_CLASS}`)) {
    const one = now.get(number.dataset.passage!)
    if (!one) continue
    if (number.textContent !== String(one.number)) number.textContent = String(one.number)
    if (number.ariaLabel !== one.label) number.setAttribute('aria-label', one.label)
  }
}

/** What stands at a passage's place, and at its remark. */
export const passageId = (key: string) => `passage-${key}`
export const remarkId = (key: string) => `remark-${key}`

/** Light some passages up, and dim the others (null: all are alike); one may be open. */
export function light(root: HTMLElement, lit: Set<string> | null, open: string | null): void {
  for (const mark of root.querySelectorAll<HTMLElement>('[data-passages], [data-passage]')) {
    const keys = (mark.dataset.passages ?? mark.dataset.passage)!.split(' ')
    const on = lit !== null && keys.some((key) => lit.has(key))
    mark.classList.toggle('lit', on)
    const opened = open !== null && keys.includes(open)
    mark.classList.toggle('open', opened)
    mark.classList.toggle('dim', lit !== null && !on && !opened)
  }
}
