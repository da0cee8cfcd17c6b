import { forget, keep, kept } from './typed'
import { computed, reactive, ref, shallowRef, watch } from 'vue'

/** What a form is filled from: which thing, in what version, and what stands there. */
export interface Source<Body> {
  id: number | string
  version: number
  body: Body
}

/**
 * What is being typed over something that others may change meanwhile. While nothing is typed the
 * form follows what is there; once something is, it stays, and `meanwhile` says that what is there
 * has become another, until the teacher takes either. What is typed is kept under the form's name
 * when something else is opened, and is there again afterwards (`restored`); without a name it is
 * let go.
 */
export function useDraft<Body extends object>(form: string | null, source: () => Source<Body>) {
  const body = reactive(copy(source().body)) as Body
  const filled = shallowRef(JSON.stringify(body))
  /** The version that what is typed is based on. */
  const version = ref(source().version)
  /** The version that the form was filled from. */
  let filledVersion = source().version
  const dirty = computed(() => JSON.stringify(body) !== filled.value)
  const meanwhile = ref(false)
  const restored = ref(false)
  /** The form is being filled from another thing: nothing of this is typed. */
  let filling = false
  const place = () => (form === null ? null : `${form} ${source().id}`)

  /** Take up what was typed here before something else was opened. */
  function restore() {
    const before = kept(place())
    restored.value = before !== null && JSON.stringify(before.body) !== filled.value
    if (!before || !restored.value) return forget(place())
    Object.assign(body, before.body)
    version.value = before.version
    meanwhile.value = before.version !== source().version
  }

  /** Show what is there; what was typed is let go. */
  function showTheirs() {
    Object.assign(body, copy(source().body))
    saved()
  }

  /** Keep what is typed, to be saved over what is there now. */
  function keepMine() {
    version.value = filledVersion = source().version
    meanwhile.value = false
  }

  /** What is typed is saved: it follows what is there again. */
  function saved() {
    filled.value = JSON.stringify(body)
    restored.value = false
    forget(place())
    keepMine()
  }

  watch(
    () => [source().id, source().version],
    ([id], [before]) => {
      if (id !== before) {
        // Only what is on the form is let go: it is kept for the thing it was typed of.
        filling = true
        Object.assign(body, copy(source().body))
        filled.value = JSON.stringify(body)
        keepMine()
        filling = false
        restore()
      } else if (!dirty.value) showTheirs()
      else if (source().version !== version.value) meanwhile.value = true
    },
  )
  watch(
    () => [dirty.value, JSON.stringify(body), version.value],
    () => {
      if (filling) return
      if (dirty.value) keep(place(), { version: version.value, body })
      else {
        // Nothing is typed any more: what counts is what the form was filled from.
        forget(place())
        version.value = filledVersion
        meanwhile.value = filledVersion !== source().version
      }
    },
    { flush: 'sync' },
  )
  restore()
  return reactive({ body, version, dirty, meanwhile, restored, showTheirs, keepMine, saved })
}

function copy<Body>(body: Body): Body {
  return JSON.parse(JSON.stringify(body)) as Body
}
