import { watchDebounced } from '@vueuse/core'
import { ref, watch, type Ref, type ShallowRef } from 'vue'
import { scrolling } from '@/design/focus'
import type { PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'

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
    for (let number = 1; number <= document.numPages; number++) {
      if (!texts.has(number)) {
        const { items } = await (await document.getPage(number)).getTextContent()
        const all = items.map((item) => ('str' in item ? item.str + (item.hasEOL ? ' ' : '') : ''))
        texts.set(number, all.join('').toLowerCase())
      }
      if (words !== wanted.value.trim().toLowerCase() || document !== pdf.value) return
      if (texts.get(number)!.includes(words)) found.value.push(number)
    }
    looking.value = false
    go(0)
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
