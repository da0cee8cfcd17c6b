import { watchDebounced } from '@vueuse/core'
import { ref, watch, type Ref, type ShallowRef } from 'vue'
import { scrolling } from '@/design/focus'
import type { PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'

/** So many pages are read at a time, so that none waits for the answer about another. */
const AT_ONCE = 20

/** Looking for words in a PDF: on which pages they are, and going from one to the next. */
export function usePdfSearch(
  pdf: Readonly<ShallowRef<PDFDocumentProxy | null>>,
  pages: Readonly<Ref<HTMLElement[]>>,
) {
  const wanted = ref('')
  let texts = new Map<number, string>()
  const found = ref<number[]>([])
  const at = ref(0)
  const looking = ref(false)

  watchDebounced(wanted, () => void search(), { debounce: 250 })

  async function search() {
    const document = pdf.value
    const words = wanted.value.trim().toLowerCase()
    found.value = []
    at.value = 0
    pages.value.forEach((page) => light(page.querySelector<HTMLElement>('.text-layer')))
    if (!document || words.length < 2) return
    looking.value = true
    for (let first = 1; first <= document.numPages; first += AT_ONCE) {
      const count = Math.min(AT_ONCE, document.numPages - first + 1)
      const numbers = Array.from({ length: count }, (_, index) => first + index)
      const read = await Promise.all(numbers.map((number) => text(document, number)))
      if (words !== wanted.value.trim().toLowerCase() || document !== pdf.value) return
      found.value.push(...numbers.filter((_, index) => read[index]!.includes(words)))
    }
    looking.value = false
    go(0)
  }

  /** The words of a page, read once. */
  async function text(document: PDFDocumentProxy, number: number) {
    const known = texts.get(number)
    if (known !== undefined) return known
    const { items } = await (await document.getPage(number)).getTextContent()
    const all = items.map((item) => ('str' in item ? item.str + (item.hasEOL ? ' ' : '') : ''))
    const read = all.join('').toLowerCase()
    if (document === pdf.value) texts.set(number, read)
    return read
  }

  function go(to: number) {
    if (!found.value.length) return
    at.value = (to + found.value.length) % found.value.length
    const page = pages.value[found.value[at.value]! - 1]
    const within = page && scrolling(page)
    // Only what the pages scroll in moves, and not the whole desk; the tools stay in sight above.
    if (page) within!.scrollTop += page.getBoundingClientRect().top - TOOLS - topOf(within!)
  }

  const TOOLS = 60
  const topOf = (element: Element) =>
    element === document.scrollingElement ? 0 : element.getBoundingClientRect().top

  /** Light up what was looked for, in the pieces of text that hold it. */
  function light(layer: HTMLElement | null) {
    const words = wanted.value.trim().toLowerCase()
    for (const span of layer?.querySelectorAll('span') ?? []) {
      const holds = words.length > 1 && (span.textContent ?? '').toLowerCase().includes(words)
      span.classList.toggle('hit', holds)
    }
  }

  watch(pdf, () => (texts = new Map()))

  return { wanted, found, at, looking, go, light }
}
