<script setup lang="ts">
import { NButton } from 'naive-ui'
import { TextLayer } from 'pdfjs-dist/legacy/build/pdf.mjs'
import type { PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { useElementSize, useIntersectionObserver } from '@vueuse/core'
import { computed, nextTick, onScopeDispose, reactive, ref, shallowRef, watch } from 'vue'
import { scrolling } from '@/design/focus'
import Notice from '@/design/telling/Notice.vue'
import TextField from '@/design/controls/TextField.vue'
import { several } from '@/design/format'
import ShapeLayer from '@/shared/passages/ShapeLayer.vue'
import { light as lightPassages } from '@/shared/passages/paint'
import { usePassageContext, type Surface } from '@/shared/passages/passages'
import { showPassages } from '@/shared/passages/useSurface'
import { openPdf, paint, paintFirst } from './pdfs'
import { usePdfSearch } from './usePdfSearch'

/** A PDF: only the pages that are looked at are drawn; its scripts and forms are not run. */
const props = defineProps<{ file: Blob; name: string; partId?: number }>()
const context = usePassageContext()

const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const pdf = shallowRef<PDFDocumentProxy | null>(null)
const problem = ref('')
const zoom = ref(1)
/** Each page's width and height at scale 1; those not met yet are taken to be like the first. */
const sizes = reactive<{ width: number; height: number }[]>([])
const seen = reactive(new Set<number>())
const drawn = new Map<number, { width: number; stop: () => void }>()
/** What is opened now: nothing else is shown meanwhile. */
let loading: Blob | null = null

async function load(file: Blob) {
  close()
  loading = file
  try {
    const found = await openPdf(file)
    const first = (await found.getPage(1)).getViewport({ scale: 1 })
    if (loading !== file) return
    sizes.splice(
      0,
      sizes.length,
      ...Array.from({ length: found.numPages }, () => ({
        width: first.width,
        height: first.height,
      })),
    )
    pdf.value = found
    await nextTick()
    // The first page is seen, whatever the observer will find out a frame later.
    if (width.value) seen.add(1)
    observe()
  } catch (error) {
    if (loading !== file) return
    problem.value =
      error instanceof Error && error.name === 'PasswordException'
        ? 'This PDF opens only with a password: download it.'
        : 'This PDF is damaged, or none: it can be downloaded.'
  }
}

function close() {
  problem.value = ''
  seen.clear()
  drawn.forEach((one) => one.stop())
  drawn.clear()
  pdf.value = null
  loading = null
}

// Shallow: each of thousands of pages is taken out of the list when it goes.
const pages = shallowRef<HTMLElement[]>([])
let unobserve = () => {}
function observe() {
  unobserve()
  const first = pages.value[0]
  const scrolled = first && scrolling(first)
  const within = scrolled === document.scrollingElement ? null : (scrolled as HTMLElement)
  const watching = useIntersectionObserver(
    pages.value,
    (entries) => {
      for (const entry of entries) {
        const number = Number((entry.target as HTMLElement).dataset.page)
        if (entry.isIntersecting) seen.add(number)
        else seen.delete(number)
      }
    },
    // By what they scroll in: a margin around the window does not reach beyond that.
    { root: within, rootMargin: '800px 0px' },
  )
  unobserve = watching.stop
}

const fit = computed(() => Math.max(80, width.value - 2) * zoom.value)
watch([() => [...seen], fit], ([now]) => {
  for (const number of now as number[]) void draw(number)
  // What is far away gives its memory back.
  for (const [number, one] of drawn) {
    if (seen.has(number)) continue
    one.stop()
    drawn.delete(number)
  }
})

/** The words of the pages that are drawn: passages are in them. */
const surfaces = new Map<number, Surface>()

function enterSurface(number: number, root: HTMLElement) {
  if (!context || !props.partId) return
  const surface = { root, partId: props.partId, page: { number, ...sizes[number - 1]! } }
  surfaces.set(number, surface)
  context.desk?.surfaces.add(surface)
  showPassages(surface, context)
}

function leaveSurface(number: number) {
  const surface = surfaces.get(number)
  if (surface) context?.desk?.surfaces.delete(surface)
  surfaces.delete(number)
}

if (context) {
  watch(context.passages, () => surfaces.forEach((one) => showPassages(one, context)))
  watch([context.lit, () => context.desk?.openKey.value ?? null], ([lit, open]) =>
    surfaces.forEach((one) => lightPassages(one.root, lit, open)),
  )
}

async function draw(number: number) {
  const document = pdf.value
  const wide = Math.round(fit.value)
  if (!document || drawn.get(number)?.width === wide) return
  drawn.get(number)?.stop()
  let stopped = false
  let stop = () => {}
  drawn.set(number, {
    width: wide,
    stop: () => {
      stopped = true
      stop()
    },
  })
  try {
    const page = await document.getPage(number)
    const element = pages.value[number - 1]
    const sheet = element?.querySelector('.sheet')
    if (stopped || !element || !sheet) return
    const plain = page.getViewport({ scale: 1 })
    sizes[number - 1] = { width: plain.width, height: plain.height }
    const painting = number === 1 ? paintFirst(props.file, page, wide) : paint(page, wide)
    const { canvas, viewport } = painting
    const text = window.document.createElement('div')
    text.className = 'text-layer'
    stop = () => {
      painting.cancel()
      sheet.replaceChildren()
      leaveSurface(number)
    }
    await painting.done
    if (stopped) return
    sheet.replaceChildren(canvas, text)
    element.style.setProperty('--total-scale-factor', String(viewport.scale))
    element.style.setProperty('--scale-factor', String(viewport.scale))
    element.dataset.drawn = 'true'
    const content = await page.getTextContent()
    if (stopped) return
    await new TextLayer({ textContentSource: content, container: text, viewport }).render()
    light(text)
    if (!stopped) enterSurface(number, text)
  } catch {
    // A page that was left while it was drawn, or that is damaged: it stays empty.
  }
}

const { wanted, found, at, looking, go, light } = usePdfSearch(pdf, pages)

watch(() => props.file, load, { immediate: true })
onScopeDispose(() => {
  unobserve()
  close()
  TextLayer.cleanup()
})
</script>

<template>
  <div>
    <div class="row tools" role="group" aria-label="PDF">
      <NButton size="small" aria-label="Smaller" @click="zoom = Math.max(0.4, zoom / 1.2)"
        >−</NButton
      >
      <span class="small quiet percent" role="status">{{ Math.round(zoom * 100) }}%</span>
      <NButton size="small" aria-label="Larger" @click="zoom = Math.min(5, zoom * 1.2)">+</NButton>
      <NButton size="small" @click="zoom = 1">Fit</NButton>
      <TextField
        v-model="wanted"
        class="search"
        label="Search in this PDF"
        placeholder="Search in this PDF"
        bare
      />
      <span v-if="wanted.trim().length > 1" class="small quiet" role="status">{{
        looking
          ? 'Searching …'
          : found.length
            ? `Page ${found[at]}: ${at + 1} of ${several(found.length, 'page')}`
            : 'Not found'
      }}</span>
      <NButton v-if="found.length > 1" size="small" @click="go(at + 1)">Next page with it</NButton>
      <span v-if="pdf" class="small quiet push nowrap">{{ several(pdf.numPages, 'page') }}</span>
    </div>
    <Notice v-if="problem">{{ problem }}</Notice>
    <div ref="box" class="pages" tabindex="0" :aria-label="`Pages of ${name}`">
      <div
        v-for="(size, index) in sizes"
        v-show="pdf"
        :key="index"
        ref="pages"
        class="leaf"
        :data-page="index + 1"
        :style="{ width: `${fit}px`, aspectRatio: `${size.width} / ${size.height}` }"
      >
        <div class="sheet" />
        <ShapeLayer
          v-if="partId"
          :part-id="partId"
          :page="index + 1"
          :width="size.width"
          :height="size.height"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.tools {
  position: sticky;
  top: -14px;
  z-index: 2;
  flex-wrap: wrap;
  padding: 6px 0 8px;
  background: var(--paper);
}
.percent {
  min-width: 44px;
  text-align: center;
}
.search {
  width: 190px;
}
.pages {
  overflow-x: auto;
}
.leaf {
  position: relative;
  background: #fff;
  border: 1px solid var(--line);
  margin-bottom: 10px;
}
.sheet {
  width: 100%;
  height: 100%;
}
.leaf :deep(canvas) {
  display: block;
  width: 100%;
  height: 100%;
}
.leaf :deep(.text-layer) {
  position: absolute;
  /* Passages and what is found are a wash over the page, whose words stay black. */
  mix-blend-mode: multiply;
  inset: 0;
  overflow: clip;
  line-height: 1;
  text-align: initial;
  text-size-adjust: none;
  forced-color-adjust: none;
  transform-origin: 0 0;
  --min-font-size: 1;
  --text-scale-factor: calc(var(--total-scale-factor) * var(--min-font-size));
  --min-font-size-inv: calc(1 / var(--min-font-size));
}
.leaf :deep(.text-layer :is(span, br)) {
  color: transparent;
  position: absolute;
  white-space: pre;
  cursor: text;
  transform-origin: 0% 0%;
}
.leaf :deep(.text-layer > :not(.markedContent)),
.leaf :deep(.text-layer .markedContent span:not(.markedContent)) {
  z-index: 1;
  --font-height: 0;
  font-size: calc(var(--text-scale-factor) * var(--font-height));
  --scale-x: 1;
  --rotate: 0deg;
  transform: rotate(var(--rotate)) scaleX(var(--scale-x)) scale(var(--min-font-size-inv));
}
.leaf :deep(.text-layer .markedContent) {
  display: contents;
}
.leaf :deep(.text-layer .hit) {
  background: #f3d76a88;
}
</style>

<style>
/* By what pdf.js measures texts, at the end of the page. */
.hiddenCanvasElement {
  display: none;
}
</style>
