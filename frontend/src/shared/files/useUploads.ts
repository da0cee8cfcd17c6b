import { computed, onScopeDispose, reactive } from 'vue'
import { asProblem } from '@/api/client'
import { giveUp, newKey, sendFile, type Whose } from '@/api/upload'

export interface Uploading {
  key: string
  file: File
  sent: number
  /** Why it does not go on now; it does by itself. */
  waiting: string
  /** Why it was refused: it does not go on. */
  problem: string
  id: number | null
  stop: AbortController
  /** Those before it were put in their place, stopped or refused. */
  before: Promise<unknown>
  settled: Promise<void>
  settle: () => void
}

/** Files on their way in: sent two at a time, put where they belong (`place`) in their order. */
export function useUploads(whose: Whose, place: (uploadId: number, file: File) => Promise<void>) {
  const all = reactive<Uploading[]>([])
  const busy = computed(() => all.some((one) => !one.problem))

  function add(files: Iterable<File>) {
    for (const file of files) {
      let settle = () => {}
      const settled = new Promise<void>((resolve) => (settle = resolve))
      all.push({
        before: Promise.all(all.map((one) => one.settled)),
        settled,
        settle,
        key: newKey(),
        file,
        sent: 0,
        waiting: '',
        problem: '',
        id: null,
        stop: new AbortController(),
      })
    }
    next()
  }

  const going = new Set<string>()
  function next() {
    for (const one of all) {
      if (going.size >= 2) return
      if (!one.problem && !going.has(one.key)) void send(one)
    }
  }

  async function send(one: Uploading) {
    going.add(one.key)
    try {
      one.id = await sendFile(whose, one.key, one.file, {
        progress: (sent) => (one.sent = sent),
        waiting: (why) => (one.waiting = why),
        signal: one.stop.signal,
      })
      await one.before
      if (one.stop.signal.aborted) return
      await place(one.id, one.file)
      remove(one)
    } catch (error) {
      if (!one.stop.signal.aborted) one.problem = asProblem(error).message
    } finally {
      one.settle()
      going.delete(one.key)
      next()
    }
  }

  function remove(one: Uploading) {
    const at = all.findIndex((other) => other.key === one.key)
    if (at >= 0) all.splice(at, 1)
  }

  /** Stop one, or take one that was refused off the list. */
  function cancel(one: Uploading) {
    one.stop.abort()
    remove(one)
    if (one.id !== null) void giveUp(whose, one.id).catch(() => {})
  }

  function again(one: Uploading) {
    one.problem = ''
    next()
  }

  onScopeDispose(() => all.forEach((one) => one.stop.abort()))
  return { all, busy, add, cancel, again }
}
