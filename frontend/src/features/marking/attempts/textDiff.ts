/** What changed between two texts, word by word. */

export interface Stretch {
  text: string
  what: 'same' | 'added' | 'removed'
}

const LONGEST_MS = 200

/** Compare two texts in a worker; null where it takes too long, so that they are read side by side. */
export function textDiff(before: string, after: string): Promise<Stretch[] | null> {
  return new Promise((resolve) => {
    const worker = new Worker(new URL('./textDiff.worker.ts', import.meta.url), { type: 'module' })
    let timer: ReturnType<typeof setTimeout> | undefined
    const end = (found: Stretch[] | null) => {
      clearTimeout(timer)
      worker.terminate()
      resolve(found)
    }
    worker.onerror = () => end(null)
    worker.onmessage = ({ data }: MessageEvent<'ready' | Stretch[]>) => {
      if (data !== 'ready') return end(data)
      timer = setTimeout(() => end(null), LONGEST_MS)
      worker.postMessage({ before, after })
    }
  })
}
