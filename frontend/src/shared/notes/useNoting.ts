import { defineStore } from 'pinia'
import { reactive, ref, watch } from 'vue'
import { forget, keep, kept } from '@/shared/forms/typed'

/** A note that is being written: kept in this tab until it is saved, whatever is opened meanwhile. */
export interface NoteDraft {
  classId: number
  studentIds: number[]
  outcomeId: number
  level: number | null
  halfWay: boolean
  words: string
  /** When it was seen, as an input of a day and time has it; empty: now. */
  seenAt: string
}

const FORM = 'note'
const EMPTY: NoteDraft = {
  ...{ classId: 0, studentIds: [], outcomeId: 0 },
  ...{ level: null, halfWay: false, words: '', seenAt: '' },
}

/** Writing a note from anywhere: who opens it may say of whom, and on what. */
export const useNoting = defineStore('noting', () => {
  const show = ref(false)
  const draft = reactive<NoteDraft>({ ...EMPTY, studentIds: [] })
  watch(draft, (now) => {
    const begun = now.words || now.level !== null || now.studentIds.length
    if (begun) keep(FORM, { version: 0, body: { ...now } })
    else forget(FORM)
  })

  function open(classId: number, studentIds: readonly number[] = [], outcomeId = 0) {
    const before = kept(FORM)?.body as NoteDraft | undefined
    Object.assign(draft, { ...EMPTY, studentIds: [] }, before)
    // What was being written of somebody else goes on, unless another one is meant now.
    if (classId && draft.classId !== classId) Object.assign(draft, { ...EMPTY, classId })
    if (studentIds.length) draft.studentIds = [...studentIds]
    if (outcomeId) draft.outcomeId = outcomeId
    show.value = true
  }

  /** It is saved: the next one begins with nothing but the outcome. */
  function saved() {
    const { classId, outcomeId } = draft
    Object.assign(draft, { ...EMPTY, studentIds: [], classId, outcomeId })
    forget(FORM)
  }

  return { show, draft, open, saved }
})
