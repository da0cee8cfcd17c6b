import { computed, nextTick, ref, type Ref } from 'vue'

/** What of the desk the bank needs: where a text of it goes. */
export interface BankDesk {
  /** The passage that is open, if any, and the criterion that it is tied to. */
  passage: Readonly<Ref<{ key: string; criterionId: number | null; text: string } | null>>
  /** The criterion (null: the whole) whose remark is written, or that is open. */
  criterionId: () => number | null
  remarkOf: (criterionId: number | null) => string
  write: (criterionId: number | null, text: string) => void
  writePassage: (key: string, text: string) => void
  focusPassage: () => void
  leave: () => void
}

/** The bank at the desk: opened for a remark or a passage, and a text of it put there. */
export function useBank(it: BankDesk) {
  /** For what it is open; undefined: it is not. */
  const openFor = ref<number | null | undefined>()
  const searching = ref(0)

  function open() {
    // Open already, its search is what one wants.
    if (openFor.value !== undefined) searching.value++
    // What is being written is saved first.
    const at = it.passage.value ? it.passage.value.criterionId : it.criterionId()
    ;(document.activeElement as HTMLElement | null)?.blur()
    openFor.value = at
  }

  function take(text: string) {
    const at = openFor.value
    openFor.value = undefined
    if (at === undefined) return
    const passage = it.passage.value
    const behind = (before: string) => [before.trim(), text].filter(Boolean).join(' ')
    if (passage) {
      it.writePassage(passage.key, behind(passage.text))
      void nextTick(it.focusPassage)
    } else {
      it.write(at, behind(it.remarkOf(at)))
      void nextTick(it.leave)
    }
  }

  function close() {
    openFor.value = undefined
    if (it.passage.value) void nextTick(it.focusPassage)
    else void nextTick(it.leave)
  }

  return {
    openFor: computed(() => openFor.value),
    searching,
    open,
    take,
    close,
    shut: () => (openFor.value = undefined),
  }
}
