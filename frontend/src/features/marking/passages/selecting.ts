/** From what is selected in the work to the place of a passage. */
import type { Layer, Place, Quote, Surface } from '@/shared/passages/passages'
import { quoteAt, stretchOf, toSpan, wordsOf } from '@/shared/passages/words'

const LONGEST = 5000
const MOST_RECTS = 400

export interface Selected {
  partId: number
  place: Place
}

/** The range that is selected in the work, if any. */
export function selectedRange(surfaces: Iterable<Surface>): Range | null {
  const selection = window.getSelection()
  if (!selection?.rangeCount || selection.isCollapsed) return null
  const range = selection.getRangeAt(0)
  for (const { root } of surfaces) if (range.intersectsNode(root)) return range
  return null
}

/** Where what is selected is: in a text, or on one page or several of a PDF; null where nothing is. */
export function placeOf(range: Range, surfaces: Iterable<Surface>): Selected | null {
  const touched = [...surfaces]
    .filter(({ root }) => range.intersectsNode(root))
    .sort((one, other) => (one.page?.number ?? 0) - (other.page?.number ?? 0))
  const found = touched.flatMap((surface) => {
    const words = wordsOf(surface.root)
    const at = stretchOf(range, words)
    return at ? [{ surface, words, at }] : []
  })
  const first = found[0]
  if (!first) return null
  const { partId } = first.surface
  const quote = quoteAt(first.words.text, first.at)
  const place = { quote, span: null, pieces: [], shape: null }
  if (!first.surface.page) {
    return { partId, place: { ...place, span: toSpan(first.words.text, first.at) } }
  }
  const pages = found.filter(({ surface }) => surface.partId === partId && surface.page)
  const pieces = pages.map(({ surface, words, at }) => ({
    page: surface.page!.number,
    span: toSpan(words.text, at),
    rects: rectsOf(range, surface),
  }))
  return { partId, place: { ...place, quote: joined(pages, quote), pieces } }
}

function joined(
  pages: { words: { text: string }; at: { from: number; to: number } }[],
  first: Quote,
): Quote {
  const last = pages.at(-1)!
  const exact = pages.map(({ words, at }) => words.text.slice(at.from, at.to)).join('\n')
  return { exact, prefix: first.prefix, suffix: quoteAt(last.words.text, last.at).suffix }
}

/** Why a passage is too long to be one, if it is. */
export function tooLong({ place }: Selected): string {
  const length = place.quote ? [...place.quote.exact].length : 0
  return length > LONGEST
    ? `A passage has at most ${LONGEST.toLocaleString('en')} characters: select less.`
    : ''
}

/** The rectangles of a range on a page, line by line, in units of the page. */
function rectsOf(range: Range, { root, page }: Surface) {
  const box = root.getBoundingClientRect()
  const scale = page!.width / box.width
  const inPage = (x: number, most: number) => Math.round(Math.min(Math.max(x, 0), most) * 100) / 100
  const here = document.createRange()
  here.selectNodeContents(root)
  if (range.compareBoundaryPoints(Range.START_TO_START, here) > 0)
    here.setStart(range.startContainer, range.startOffset)
  if (range.compareBoundaryPoints(Range.END_TO_END, here) < 0)
    here.setEnd(range.endContainer, range.endOffset)
  const lines: { x: number; y: number; width: number; height: number }[] = []
  for (const rect of here.getClientRects()) {
    if (rect.width < 1 || rect.height < 1) continue
    const x = inPage((rect.left - box.left) * scale, page!.width)
    const y = inPage((rect.top - box.top) * scale, page!.height)
    const one = {
      x,
      y,
      width: inPage(rect.width * scale, page!.width - x),
      height: inPage(rect.height * scale, page!.height - y),
    }
    const before = lines.at(-1)
    // What stands on one line is one.
    if (before && Math.abs(before.y - y) < one.height / 2 && x >= before.x) {
      before.width = inPage(
        Math.max(before.x + before.width, x + one.width) - before.x,
        page!.width,
      )
    } else lines.push(one)
  }
  return lines.slice(0, MOST_RECTS)
}

/** The one of which most is in sight. */
export function inSight<T extends Layer | Surface>(all: Iterable<T>): T | null {
  let best: T | null = null
  let most = 0
  for (const one of all) {
    const box = ('root' in one ? one.root : one.element).getBoundingClientRect()
    const high = Math.min(box.bottom, window.innerHeight) - Math.max(box.top, 0)
    const wide = Math.min(box.right, window.innerWidth) - Math.max(box.left, 0)
    const area = high > 0 && wide > 0 ? high * wide : 0
    if (area > most) [best, most] = [one, area]
  }
  return best
}
