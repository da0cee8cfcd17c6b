import { computed, ref, shallowRef } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { tabPerson } from '@/api/person'
import { newKey, sendFile } from '@/api/upload'
import { useRecorder } from '@/shared/recording/useRecorder'
import { drop, fileOf, keepHead, keptNotes, type Kept } from '@/shared/recording/kept'

/** A recording or a photograph that goes with a note once it is written. */
interface Ready {
  key: string
  file: File
  recording: boolean
  seconds: number
}

/** Recordings and photographs of a note that is being written: with it they are sent. */
export function useNoteFiles() {
  const ready = shallowRef<readonly Ready[]>([])
  const problem = ref('')
  const recorder = useRecorder(({ kept, file }) => void take(kept, file))

  async function take(kept: Kept, file: File | null) {
    const whole = file ?? (await fileOf(kept))
    if (!whole.size || kept.seconds < 1) {
      problem.value = 'This recording is empty.'
      return void drop(kept.key).catch(() => {})
    }
    const one = { key: kept.key, file: whole, recording: true, seconds: kept.seconds }
    ready.value = [...ready.value.filter((other) => other.key !== one.key), one]
  }

  /** What was recorded for a note that was not written yet. */
  async function load() {
    const person = tabPerson.value
    if (person === null) return
    for (const one of await keptNotes(person).catch(() => [])) {
      if (one.key === recorder.now.value?.key) continue
      const ended = { ...one, ended: true }
      await keepHead(ended).catch(() => {})
      await take(ended, null)
    }
  }

  function record() {
    problem.value = ''
    if (tabPerson.value === null) return
    const nowhere = { taskId: 0, studentId: 0, attempt: 0, criterionId: null, passageKey: null }
    void recorder.start({ key: newKey(), person: tabPerson.value, note: true, ...nowhere })
  }

  function add(files: Iterable<File>) {
    problem.value = ''
    const more = [...files].map((file) => ({ key: newKey(), file, recording: false, seconds: 0 }))
    ready.value = [...ready.value, ...more]
  }

  function remove(key: string) {
    ready.value = ready.value.filter((one) => one.key !== key)
    void drop(key).catch(() => {})
  }

  /** Send all of them with these notes; gives whether they are there. */
  async function sendWith(noteIds: readonly number[]): Promise<boolean> {
    const signal = new AbortController().signal
    for (const one of ready.value) {
      try {
        for (const note_id of noteIds) {
          const upload_id = await sendFile('teacher', newKey(), one.file, {
            progress: () => {},
            waiting: (why) => (problem.value = why),
            signal,
          })
          const { key, recording, seconds } = one
          await ask(
            api.POST('/api/notes/{note_id}/files', {
              params: { path: { note_id } },
              body: { key, upload_id, recording, seconds },
            }),
          )
        }
      } catch (error) {
        problem.value = `${one.file.name}: ${asProblem(error).message}`
        return false
      }
      remove(one.key)
    }
    return true
  }

  return {
    ready: computed(() => ready.value),
    problem,
    recorder,
    load,
    record,
    add,
    remove,
    sendWith,
  }
}
