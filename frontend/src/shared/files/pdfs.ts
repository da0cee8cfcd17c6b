/** PDFs that are open: the one that is looked at, and the next student's, opened ahead. */
import { getDocument, GlobalWorkerOptions, PDFWorker } from 'pdfjs-dist/legacy/build/pdf.mjs'
import type { PageViewport, PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { openPdfsBy } from './partFiles'
import workerAddress from 'pdfjs-dist/legacy/build/pdf.worker.min.mjs?url'

GlobalWorkerOptions.workerSrc = workerAddress
const DATA = `${import.meta.env.BASE_URL}pdf/`
const MOST = 4
/** One worker for all: starting one takes longer than a page to draw. */
let worker: PDFWorker | null = null
const opened = new Map<Blob, ReturnType<typeof getDocument>>()

/** Open a PDF, or take it as it is open; rejects where it is damaged or asks for a password. */
export async function openPdf(file: Blob): Promise<PDFDocumentProxy> {
  const known = opened.get(file)
  if (known) {
    // What was looked at last is closed last.
    opened.delete(file)
    opened.set(file, known)
    return await known.promise
  }
  const data = new Uint8Array(await file.arrayBuffer())
  const meanwhile = opened.get(file)
  if (meanwhile) return await meanwhile.promise
  worker ??= new PDFWorker()
  const task = getDocument({
    data,
    worker,
    cMapUrl: `${DATA}cmaps/`,
    cMapPacked: true,
    standardFontDataUrl: `${DATA}standard_fonts/`,
    iccUrl: `${DATA}iccs/`,
    wasmUrl: `${DATA}wasm/`,
    useWasm: false,
    enableXfa: false,
    isEvalSupported: false,
  })
  opened.set(file, task)
  if (opened.size > MOST) close(opened.keys().next().value!)
  return await task.promise
}

/** A page that is being painted, so many pixels wide. */
export interface Painting {
  wide: number
  canvas: HTMLCanvasElement
  viewport: PageViewport
  done: Promise<void>
  cancel: () => void
}

/** Begin to paint a page. */
export function paint(page: PDFPageProxy, wide: number): Painting {
  const viewport = page.getViewport({ scale: wide / page.getViewport({ scale: 1 }).width })
  const sharp = Math.min(window.devicePixelRatio || 1, 2)
  const canvas = document.createElement('canvas')
  canvas.width = Math.floor(viewport.width * sharp)
  canvas.height = Math.floor(viewport.height * sharp)
  const painting = page.render({
    canvas,
    viewport,
    transform: sharp === 1 ? undefined : [sharp, 0, 0, sharp, 0, 0],
  })
  return { wide, canvas, viewport, done: painting.promise, cancel: () => painting.cancel() }
}

/** First pages that are painted ahead, as wide as the page that was painted last. */
const ahead = new Map<Blob, Painting>()
let lastWide = 0

/** Begin to paint the first page of a PDF, or take it as it was painted ahead. */
export function paintFirst(file: Blob, page: PDFPageProxy, wide: number): Painting {
  lastWide = wide
  const known = ahead.get(file)
  ahead.delete(file)
  return known?.wide === wide ? known : paint(page, wide)
}

/** Open a PDF that will be looked at next, and paint its first page. */
async function openAhead(file: Blob): Promise<void> {
  const page = await (await openPdf(file)).getPage(1)
  if (!lastWide || ahead.has(file)) return
  const painting = paint(page, lastWide)
  painting.done.catch(() => ahead.delete(file))
  ahead.set(file, painting)
}

function close(file: Blob) {
  ahead.delete(file)
  void opened.get(file)?.destroy()
  opened.delete(file)
}

/** Close all that is open, as when somebody signs out. */
function closePdfs(): void {
  for (const file of [...opened.keys()]) close(file)
}

openPdfsBy({ openAhead, closePdfs })
