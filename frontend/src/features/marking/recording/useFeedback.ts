import { deviceIso } from '@/api/clock'
import { computed, onScopeDispose, reactive, ref, shallowRef, type Ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import type { FeedbackOut, MarkOut } from '@/api/schema'
import { tabPerson } from '@/api/person'
import { newKey, sendFile } from '@/api/upload'
import { say } from '@/design/telling/messages'
import { drop, fileOf, keepHead, keepPiece, keptBy, type Kept } from '@/shared/recording/kept'
import { useRecorder } from '@/shared/recording/useRecorder'

/** What of the desk recordings and files need. */
export interface FeedbackDesk {
  taskId: number
  studentId: Readonly<Ref<number>>
  mark: Readonly<Ref<MarkOut | undefined>>
  feedback: Readonly<Ref<readonly FeedbackOut[]>>
  /** Take what the server says of somebody's mark, and look at their work anew. */
  saved: (studentId: number, mark: MarkOut) => void
  /** Where the attempt may still have to begin: begin it, and give its number. */
  prepare?: (at: Kept) => Promise<number>
}

/** A place in a mark: a criterion, a passage, or neither. */
export interface Place {
  criterionId: number | null
  passageKey: string | null
}

const FEEDBACK = '/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/feedback'

/** Spoken remarks and files of a mark: made, kept until the server has them, sent, deleted. */
export function useFeedback(it: FeedbackDesk) {
  const waiting = shallowRef<Kept[]>([])
  /** Why a recording does not go on now, or was refused. */
  const said = reactive(new Map<string, string>())
  const inMemory = new Map<string, File>()
  const problem = ref('')
  const stopped = new AbortController()
  onScopeDispose(() => stopped.abort())

  const recorder = useRecorder(({ kept, file }) => {
    if (file) inMemory.set(kept.key, file)
    waiting.value = [...waiting.value, kept]
    void sendAll()
  })

  /** Those that were made and not sent, also in an earlier page. */
  async function load() {
    const person = tabPerson.value
    if (person === null) return
    waiting.value = (await keptBy(person).catch(() => [])).filter(
      (one) => one.key !== recorder.now.value?.key,
    )
    await sendAll()
  }

  let sending = false
  async function sendAll() {
    if (sending) return
    sending = true
    for (const next = () => waiting.value.find((one) => one.ended && !said.get(one.key)); ;) {
      const one = next()
      if (!one || stopped.signal.aborted) break
      await send(one)
    }
    sending = false
  }

  async function send(one: Kept) {
    try {
      const file = inMemory.get(one.key) ?? (await fileOf(one))
      if (!file.size || (!one.name && one.seconds < 1)) {
        said.set(one.key, one.name ? 'This file is empty.' : 'This recording is empty.')
        return
      }
      const attempt = it.prepare ? await it.prepare(one) : one.attempt
      const kind = one.name ? 'file' : 'recording'
      await put({ ...one, attempt }, one.key, file, kind, one.seconds, (why) => {
        if (why) said.set(one.key, why)
        else said.delete(one.key)
      })
      said.delete(one.key)
      await forget(one)
    } catch (error) {
      if (!stopped.signal.aborted) said.set(one.key, asProblem(error).message)
    }
  }

  /** Send a file and give it to the mark. */
  async function put(
    at: { taskId: number; studentId: number; attempt: number } & Place,
    key: string,
    file: File,
    kind: 'recording' | 'file',
    seconds: number,
    waits: (why: string) => void,
  ) {
    const upload = await sendFile('teacher', key, file, {
      progress: () => {},
      waiting: waits,
      signal: stopped.signal,
    })
    const mark = await ask(
      api.POST(FEEDBACK, {
        params: {
          path: { task_id: at.taskId, student_id: at.studentId, attempt: at.attempt },
        },
        body: {
          key,
          upload_id: upload,
          kind,
          criterion_id: at.criterionId,
          passage_key: at.passageKey,
          words: '',
          seconds,
        },
      }),
    )
    if (at.taskId === it.taskId) it.saved(at.studentId, mark)
  }

  async function forget(one: Kept) {
    waiting.value = waiting.value.filter((other) => other.key !== one.key)
    inMemory.delete(one.key)
    said.delete(one.key)
    await drop(one.key).catch(() => {})
  }

  /** Keep what was cut off, as far as it came, or try again what was refused. */
  async function keep(one: Kept) {
    said.delete(one.key)
    const ended = { ...one, ended: true }
    waiting.value = waiting.value.map((other) => (other.key === one.key ? ended : other))
    await keepHead(ended).catch(() => {})
    await sendAll()
  }

  const here = (place: Place) => ({
    taskId: it.taskId,
    studentId: it.studentId.value,
    attempt: it.mark.value?.attempt ?? 1,
    ...place,
  })

  function record(place: Place) {
    if (tabPerson.value === null) return
    void recorder.start({ key: newKey(), person: tabPerson.value, ...here(place) })
  }

  /** Keep files in this browser first, and send them when the server answers. */
  async function keepFiles(place: Place, files: Iterable<File>) {
    problem.value = ''
    if (tabPerson.value === null) return
    for (const file of files) {
      const one: Kept = {
        ...{ key: newKey(), person: tabPerson.value, ...here(place) },
        ...{ name: file.name, type: file.type },
        ...{ startedAt: deviceIso(), seconds: 0, ended: true },
      }
      try {
        await keepHead(one)
        await keepPiece(one.key, 0, file)
      } catch {
        inMemory.set(one.key, file)
        problem.value = 'This browser has no room left: keep this page open until the file is sent.'
      }
      waiting.value = [...waiting.value, one]
    }
    await sendAll()
  }

  async function attach(place: Place, files: Iterable<File>) {
    problem.value = ''
    const at = here(place)
    try {
      for (const file of files) {
        await put(at, newKey(), file, 'file', 0, (why) => (problem.value = why))
        say(`Attached ${file.name}`)
      }
    } catch (error) {
      problem.value = asProblem(error).message
    }
  }

  const params = () => ({
    path: {
      task_id: it.taskId,
      student_id: it.studentId.value,
      attempt: it.mark.value?.attempt ?? 1,
    },
  })
  async function change(one: FeedbackOut, words: string, deleted: boolean) {
    problem.value = ''
    const studentId = it.studentId.value
    const body = { key: one.key, words, deleted, version: one.version }
    try {
      it.saved(studentId, await ask(api.PUT(FEEDBACK, { params: params(), body })))
    } catch (error) {
      problem.value = asProblem(error).message
    }
  }

  /** What is at a place: sent, and still on its way. */
  const at = (place: Place) => ({
    sent: it.feedback.value.filter(
      (one) =>
        one.passage_key === place.passageKey &&
        (place.passageKey !== null || one.criterion_id === place.criterionId),
    ),
    waiting: waiting.value.filter(
      (one) =>
        one.taskId === it.taskId &&
        one.studentId === it.studentId.value &&
        one.attempt === it.mark.value?.attempt &&
        one.passageKey === place.passageKey &&
        (place.passageKey !== null || one.criterionId === place.criterionId),
    ),
  })
  const recordingAt = computed(() => recorder.now.value)

  void load()
  return {
    recorder,
    recordingAt,
    said,
    problem,
    at,
    record,
    attach,
    keepFiles,
    keep,
    forget,
    write: (one: FeedbackOut, words: string) => change(one, words, false),
    remove: (one: FeedbackOut) => change(one, one.words, true),
  }
}
