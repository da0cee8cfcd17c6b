import { deviceTime } from '@/api/clock'
import { computed, nextTick, ref, watch, type Ref } from 'vue'

const PAUSE = 1200

/**
 * Undo and redo of every step: `written` is what is being edited, as text; `restore` puts a text
 * back. What is typed in one field without a pause is one step.
 */
export function useSteps(written: Readonly<Ref<string>>, restore: (text: string) => void) {
  const past = ref<string[]>([])
  const future = ref<string[]>([])
  let on = false
  let quiet = false
  let last = { field: null as Element | null, at: 0 }

  watch(written, (_, before) => {
    if (!on || quiet) return
    const field = document.activeElement
    const typing = field?.matches('textarea, input:not([type=checkbox])') ?? false
    const goesOn = typing && field === last.field && deviceTime() - last.at < PAUSE
    last = { field, at: deviceTime() }
    if (!goesOn) past.value.push(before)
    future.value = []
  })

  function step(from: Ref<string[]>, to: Ref<string[]>) {
    const text = from.value.pop()
    if (text === undefined) return
    to.value.push(written.value)
    quiet = true
    restore(text)
    last = { field: null, at: 0 }
    void nextTick(() => (quiet = false))
  }

  /** Begin anew: what is there now was not done here. */
  function begin() {
    past.value = []
    future.value = []
    on = true
  }

  return {
    begin,
    undo: () => step(past, future),
    redo: () => step(future, past),
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}
