/** The words of a piece of the page: from a selection to where it is in them, and back. */
import type { Quote, Span } from './passages'

/** What is written into the words by us, and is none of them. */
export const NUMBER_CLASS = 'passage-number'
const CONTEXT = 32

/** From one UTF-16 unit of a text to before another. */
export interface Stretch {
  from: number
  to: number
}

/** The text of an element, and the nodes that it is made of. */
export interface Words {
  text: string
  nodes: { node: Text; from: number }[]
}

/** Control characters and halves of characters, which no place may hold; each becomes a blank. */
const UNFIT = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]|[\ud800-\udbff](?![\udc00-\udfff])/g

const BLOCKS = new Set(
  'P DIV LI TR TD TH H1 H2 H3 H4 H5 H6 PRE BLOCKQUOTE TABLE UL OL DT DD HR BR'.split(' '),
)

/**
 * Read the words of an element, without the numbers of passages. A line break stands where a block
 * or a line of its own begins, so that words do not run into each other.
 */
export function wordsOf(root: HTMLElement): Words {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT, {
    acceptNode: (node) => {
      if (node.nodeType === Node.TEXT_NODE) return NodeFilter.FILTER_ACCEPT
      const ours = (node as HTMLElement).classList.contains(NUMBER_CLASS)
      if (ours) return NodeFilter.FILTER_REJECT
      return BLOCKS.has(node.nodeName) ? NodeFilter.FILTER_ACCEPT : NodeFilter.FILTER_SKIP
    },
  })
  const nodes: Words['nodes'] = []
  let text = ''
  let parted = false
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node.nodeType !== Node.TEXT_NODE) {
      parted = true
      continue
    }
    if (parted && text && !/\s$/.test(text)) text += '\n'
    parted = false
    nodes.push({ node: node as Text, from: text.length })
    text += (node as Text).data
  }
  return { text: text.replace(UNFIT, ' '), nodes }
}

/** Where a range lies in the words, without blanks at its ends and with whole characters; null where it holds none. */
export function stretchOf(range: Range, words: Words): Stretch | null {
  let from = -1
  let to = -1
  for (const { node, from: at } of words.nodes) {
    if (!range.intersectsNode(node)) continue
    const first = node === range.startContainer ? range.startOffset : 0
    const last = node === range.endContainer ? range.endOffset : node.data.length
    if (first >= last) continue
    if (from < 0) from = at + first
    to = at + last
  }
  if (from < 0) return null
  const whole = wholeCharacters(words.text, { from, to })
  const chosen = words.text.slice(whole.from, whole.to)
  const trimmed = {
    from: whole.from + (chosen.length - chosen.trimStart().length),
    to: whole.to - (chosen.length - chosen.trimEnd().length),
  }
  return trimmed.from < trimmed.to ? trimmed : null
}

/** Widen to whole characters as they are read: an emoji or a letter with its accents is one. */
function wholeCharacters(text: string, { from, to }: Stretch): Stretch {
  const around = Math.max(0, from - 40)
  const piece = text.slice(around, to + 40)
  let first = from
  let last = to
  for (const { index, segment } of new Intl.Segmenter().segment(piece)) {
    const at = around + index
    if (at < from && at + segment.length > from) first = at
    if (at < to && at + segment.length > to) last = at + segment.length
  }
  return { from: first, to: last }
}

const points = (text: string) => {
  let count = 0
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at)
    if (unit < 0xdc00 || unit > 0xdfff) count++
  }
  return count
}
/** Of the text that was asked for last, since many places are asked for in one. */
let asked = { text: '', pairs: false }
function hasPairs(text: string): boolean {
  if (asked.text !== text) asked = { text, pairs: /[\ud800-\udbff]/.test(text) }
  return asked.pairs
}

/** Count in code points, as places are kept. */
export function toSpan(text: string, { from, to }: Stretch): Span {
  const start = points(text.slice(0, from))
  return { start, end: start + points(text.slice(from, to)) }
}

/** Where code points from one to before another lie in a text, as far as it goes. */
export function fromSpan(text: string, { start, end }: Span): Stretch {
  if (!hasPairs(text)) return { from: start, to: end }
  let count = 0
  let from = text.length
  let to = text.length
  for (let at = 0; at < text.length; at++) {
    if (count === start && at < from) from = at
    if (count === end) {
      to = at
      break
    }
    count++
    if (text.codePointAt(at)! > 0xffff) at++
  }
  return { from, to }
}

export function quoteAt(text: string, { from, to }: Stretch): Quote {
  return {
    exact: text.slice(from, to),
    // Twice as many units: half a character at the end is then none of what is taken.
    prefix: [...text.slice(Math.max(0, from - 2 * CONTEXT), from)].slice(-CONTEXT).join(''),
    suffix: [...text.slice(to, to + 2 * CONTEXT)].slice(0, CONTEXT).join(''),
  }
}

/**
 * Find quoted words again (docs/calculations.md, “Passages”): where they were, else at the nearest
 * place with the same words around them, else at the nearest with the same words; null where there
 * are none.
 */
export function find(text: string, quote: Quote, span: Span): Stretch | null {
  const was = fromSpan(text, span)
  if (text.slice(was.from, was.to) === quote.exact) return was
  let best: Stretch | null = null
  let worth = Infinity
  for (let at = text.indexOf(quote.exact); at >= 0; at = text.indexOf(quote.exact, at + 1)) {
    const to = at + quote.exact.length
    const inContext = text.slice(0, at).endsWith(quote.prefix) && text.startsWith(quote.suffix, to)
    const here = Math.abs(at - was.from) + (inContext ? 0 : text.length + 1)
    if (here < worth) [best, worth] = [{ from: at, to }, here]
  }
  return best
}

/** The range of a stretch, to select it. */
export function rangeOf(words: Words, { from, to }: Stretch): Range | null {
  const range = document.createRange()
  const first = nodeAt(words, from)
  const last = nodeAt(words, to - 1)
  if (!first || !last) return null
  range.setStart(first.node, from - first.from)
  range.setEnd(last.node, to - last.from)
  return range
}

function nodeAt({ nodes }: Words, at: number) {
  let low = 0
  let high = nodes.length - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (nodes[middle]!.from <= at) low = middle
    else high = middle - 1
  }
  return nodes[low]
}
