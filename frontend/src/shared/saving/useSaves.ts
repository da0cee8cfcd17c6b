import { deviceTime } from '@/api/clock'
import { useQueryCache } from '@pinia/colada'
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import type { ClassOut, MarkOut, TapIn } from '@/api/schema'
import { PERSON_HEADER } from '@/api/person'
import { dropSaves, isTap, SaveQueue, type Save, type SaveState } from './saves'

/** What a desk does when the server has answered one of its saves. */
export interface SaveListener {
  answered: (save: Save, answer: MarkOut) => void
  refused: (save: Save) => void
}

/**
 * The saves of the person who is signed in, on whatever page they are: what was marked goes on
 * being sent after the desk is left, and every page that shows marks is fetched anew after it.
 */
export const useSaves = defineStore('saves', () => {
  const cache = useQueryCache()
  const refresh = useRefresh()
  const state = shallowRef<SaveState>('idle')
  const waiting = shallowRef<readonly Save[]>([])
  const refused = shallowRef<readonly Save[]>([])
  /** How many of them only this page holds: the browser's storage is full. */
  const unkept = ref(0)
  const listeners = new Set<SaveListener>()
  let person = 0
  let queue: SaveQueue<MarkOut> | null = null
  let saved = false

  /** Take up the queue of a person, with what waits in this browser from before. */
  function open(personId: number) {
    if (person === personId) return void queue?.run()
    queue?.stop()
    person = personId
    queue = new SaveQueue<MarkOut>({
      prefix: prefixOf(personId),
      send: (save) => send(save, personId),
      versionOf: (answer) => answer.version,
      answered(save, answer) {
        saved = true
        count(save.classId, answer.to_mark_change)
        listeners.forEach((one) => one.answered(save, answer))
      },
      refused: (save) => listeners.forEach((one) => one.refused(save)),
      changed,
    })
    void queue.run()
  }

  /** Leave the queue: what waits stays in this browser for its person, or is deleted. */
  function close(deleted: boolean) {
    queue?.stop()
    if (deleted) dropSaves(prefixOf(person))
    queue = null
    person = 0
    changed('idle')
  }

  function changed(to: SaveState) {
    state.value = to
    waiting.value = queue?.waiting ?? []
    refused.value = queue?.refused ?? []
    unkept.value = queue?.unkept ?? 0
    if (to !== 'idle' || !saved) return
    saved = false
    void refresh.marks()
  }

  /** Keep the count of what waits in a class right without asking for it. */
  function count(classId: number, change: number) {
    const counted = cache.getQueryData<ClassOut[]>(keys.classes)
    if (!change || !counted) return
    cache.setQueryData(
      keys.classes,
      counted.map((one) => (one.id === classId ? { ...one, to_mark: one.to_mark + change } : one)),
    )
  }

  function listen(listener: SaveListener): () => void {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }

  return {
    state,
    waiting,
    refused,
    unkept,
    open,
    run: () => void queue?.run(),
    close,
    listen,
    add: (save: Omit<Save, 'id'>) => queue?.add(save),
    decide: (save: Save, again: boolean, version: number) => queue?.decide(save, again, version),
  }
})

const prefixOf = (personId: number) => `jade-ladder.save.${personId}.`

/** Send a save in the name of the person who made it, whoever is signed in by now. */
function send(save: Save, personId: number): Promise<MarkOut> {
  const headers = { [PERSON_HEADER]: String(personId) }
  const { taskId, studentId, attempt } = save
  const path = { task_id: taskId, student_id: studentId, attempt }
  const { version, text } = save
  if (isTap(save)) {
    const { task_id, student_id } = path
    return ask(
      api.POST('/api/tasks/{task_id}/students/{student_id}/taps', {
        params: { path: { task_id, student_id } },
        headers,
        body: tapOf(save),
      }),
    )
  }
  if (save.kind === 'finish') {
    return ask(
      api.POST('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/finish', {
        params: { path },
        headers,
      }),
    )
  }
  if (save.kind === 'choice') {
    const { level_id, half_way, not_assessed } = save
    return ask(
      api.PUT(
        '/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/choices/{criterion_id}',
        {
          params: { path: { ...path, criterion_id: save.criterionId! } },
          headers,
          body: { level_id, half_way, not_assessed, version },
        },
      ),
    )
  }
  if (save.kind === 'passage') {
    return ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/passages', {
        params: { path },
        headers,
        body: { ...save.passage!, version },
      }),
    )
  }
  if (save.criterionId === null) {
    return ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/remark', {
        params: { path },
        headers,
        body: { text, version },
      }),
    )
  }
  return ask(
    api.PUT(
      '/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/remarks/{criterion_id}',
      {
        params: { path: { ...path, criterion_id: save.criterionId } },
        headers,
        body: { text, version },
      },
    ),
  )
}

/** A tap as the server takes it, with how long it waited by this device's own clock. */
function tapOf(save: Save): TapIn {
  const waited = deviceTime() - Date.parse(save.madeAt ?? '')
  const { level_id, half_way, not_assessed } = save
  return {
    key: save.id,
    waited_ms: Math.min(Math.max(0, waited || 0), LONGEST_WAIT),
    loaded_at: save.loadedAt ?? null,
    criterion_id: save.criterionId,
    choice: save.kind === 'seen' ? { level_id, half_way, not_assessed } : null,
    remark: save.kind === 'said' ? save.text : null,
    absent: save.kind === 'absent' ? Boolean(save.absent) : null,
    before: save.before ?? null,
    said_before: save.saidBefore ?? null,
    carries: save.carries ?? false,
  }
}

/** What the server takes at most, in milliseconds: beyond it a clock was set. */
const LONGEST_WAIT = 400 * 24 * 3_600_000
