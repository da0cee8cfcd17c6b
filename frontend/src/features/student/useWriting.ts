import { useEventListener, useIntervalFn, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { DraftOut } from '@/api/schema'
import { forgetUnsent, keepUnsent, unsentOf } from '@/shared/student/writing'

/**
 * Writing at a task: each change is kept in the browser at once and on the server soon, through a lost
 * connection, a reload, and a session that ran out. What another tab wrote meanwhile is never written
 * over: the student chooses.
 */
export function useWriting(taskId: number, draft: DraftOut | null) {
  const unsent = unsentOf(taskId)
  const text = ref(unsent?.text ?? draft?.text ?? '')
  const version = ref(unsent ? unsent.version : (draft?.version ?? 0))
  const savedAt = ref(draft?.saved_at ?? null)
  const saved = ref(draft?.text ?? '')
  const problem = ref<Problem | null>(null)
  /** What is on the server, where another tab wrote on in between. */
  const theirs = ref<DraftOut | null>(null)
  const busy = ref(false)
  const dirty = computed(() => text.value !== saved.value)

  const path = { params: { path: { task_id: taskId } } }

  async function save(): Promise<boolean> {
    if (!dirty.value || theirs.value) return !dirty.value
    if (busy.value) return false
    busy.value = true
    const sent = text.value
    try {
      const now = await ask(
        api.PUT('/api/my/tasks/{task_id}/draft', {
          ...path,
          body: { text: sent, version: version.value },
        }),
      )
      version.value = now.version
      savedAt.value = now.saved_at
      saved.value = sent
      problem.value = null
      if (dirty.value) keepUnsent(taskId, { text: text.value, version: version.value })
      else forgetUnsent(taskId)
      return true
    } catch (error) {
      problem.value = asProblem(error)
      if (problem.value.stale) await meet()
      return false
    } finally {
      busy.value = false
    }
  }

  /** Fetch what another tab wrote. */
  async function meet() {
    try {
      const page = await ask(api.GET('/api/my/tasks/{task_id}', path))
      const handedIn = page.handed_in.find((one) => one.kind === 'text')?.text ?? ''
      theirs.value = page.draft ?? { text: handedIn, version: 0, saved_at: '' }
    } catch {
      // It is asked again with the next save.
    }
  }

  /** Go on with what is on the server, or with what stands here, over it. */
  async function choose(own: boolean) {
    const other = theirs.value
    if (!other) return
    theirs.value = null
    problem.value = null
    version.value = other.version
    saved.value = other.text
    if (!own) text.value = other.text
    if (!own) forgetUnsent(taskId)
    await save()
  }

  /** Go on from what the server has now, after handing in (no draft: version 0) or taking back. */
  function goOnFrom(now: string, at: number) {
    text.value = now
    saved.value = now
    version.value = at
    savedAt.value = null
    forgetUnsent(taskId)
  }

  // At once in the browser; on the server when one pauses.
  function typed() {
    keepUnsent(taskId, { text: text.value, version: version.value })
  }
  watchDebounced(text, () => void save(), { debounce: 800, maxWait: 5000 })
  useIntervalFn(() => problem.value?.gone && void save(), 5000)
  useEventListener(window, 'online', () => void save())
  if (unsent && unsent.text !== draft?.text) void save()

  return { text, version, savedAt, problem, theirs, dirty, busy, save, choose, typed, goOnFrom }
}
