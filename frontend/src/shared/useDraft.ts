import { computed, reactive, ref, shallowRef, watch } from 'vue'

/** What a form is filled from: which thing, in what version, and what stands there. */
export interface Source<Body> {
  id: number
  version: number
  body: Body
}

/**
 * What is being typed over something that others may change meanwhile. While nothing is typed the
 * form follows what is there; once something is, it stays, and `meanwhile` says that what is there
 * has become another, until the teacher takes either.
 */
export function useDraft<Body extends object>(source: () => Source<Body>) {
  const body = reactive(copy(source().body)) as Body
  const filled = shallowRef(JSON.stringify(body))
  /** The version that what is typed is based on. */
  const version = ref(source().version)
  const dirty = computed(() => JSON.stringify(body) !== filled.value)
  const meanwhile = ref(false)

  /** Show what is there; what was typed is let go. */
  function showTheirs() {
    Object.assign(body, copy(source().body))
    saved()
  }

  /** Keep what is typed, to be saved over what is there now. */
  function keepMine() {
    version.value = source().version
    meanwhile.value = false
  }

  /** What is typed is saved: it follows what is there again. */
  function saved() {
    filled.value = JSON.stringify(body)
    keepMine()
  }

  watch(
    () => [source().id, source().version],
    ([id], [before]) => {
      if (!dirty.value || id !== before) showTheirs()
      else if (source().version !== version.value) meanwhile.value = true
    },
  )
  return reactive({ body, version, dirty, meanwhile, showTheirs, keepMine, saved })
}

function copy<Body>(body: Body): Body {
  return JSON.parse(JSON.stringify(body)) as Body
}
