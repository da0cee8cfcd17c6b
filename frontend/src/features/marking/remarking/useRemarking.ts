import { computed, watch } from 'vue'
import { useBank } from '@/features/marking/bank/useBank'
import type { useDesk } from '@/features/marking/desk/useDesk'
import type { useTurn } from '@/features/marking/desk/useTurn'
import { usePassages } from '@/features/marking/passages/usePassages'
import { useFeedback } from '@/features/marking/recording/useFeedback'

/** Where the desk leads to from a remark. */
interface Ways {
  taskId: number
  /** Show the rubric, where it is not beside the work. */
  toRubric: () => void
  /** Out of a remark to the levels: digits choose again. */
  toLevels: () => void
}

/** All that is said of the work of the student whose turn it is: remarks, passages, spoken words. */
export function useRemarking(
  it: ReturnType<typeof useDesk>,
  turn: ReturnType<typeof useTurn>,
  { taskId, toRubric, toLevels }: Ways,
) {
  const { at, currentId, mark, work, criteria, current } = turn
  const remarkOf = (criterionId: number | null) =>
    mark.value?.remarks.find((one) => one.criterion_id === criterionId)?.text ?? ''

  const passages = usePassages({
    studentId: currentId,
    turn: computed(() => `${currentId.value} ${mark.value?.attempt}`),
    passages: computed(() => work.value?.passages ?? []),
    partIds: computed(() => work.value?.parts.map((one) => one.id) ?? []),
    criterionId: computed(() => current.value?.id ?? null),
    remarkOn: it.remarkOn,
    turnTo(criterionId) {
      toRubric()
      const place = criteria.value.findIndex((one) => one.id === criterionId)
      if (place >= 0) at.value = place
    },
  })
  const openPassage = computed(() =>
    passages.all.value.find((one) => one.key === passages.openKey.value),
  )

  const bank = useBank({
    passage: computed(() => {
      const found = openPassage.value
      return found ? { key: found.key, criterionId: found.criterion_id, text: found.text } : null
    }),
    criterionId: () =>
      document.activeElement?.closest('.on-whole') ? null : (current.value?.id ?? null),
    remarkOf,
    write: (criterionId, text) => it.remark(currentId.value, criterionId, text),
    writePassage: passages.write,
    focusPassage: passages.focusRemark,
    leave: toLevels,
  })
  watch([currentId, at], bank.shut)

  const feedback = useFeedback({
    taskId,
    studentId: currentId,
    mark,
    feedback: computed(() => work.value?.feedback ?? []),
    saved(studentId, saved) {
      it.take(studentId, saved)
      void it.fetchMark(studentId, true)
    },
  })
  /** Record on the passage that is open, or on the criterion; again to stop. */
  function record() {
    if (feedback.recorder.now.value) return feedback.recorder.stop()
    toRubric()
    const passage = openPassage.value
    // What is spoken on a passage has a remark there that it is heard at.
    if (passage && !passage.text) passages.write(passage.key, 'Spoken remark')
    feedback.record({
      criterionId: passage ? passage.criterion_id : (current.value?.id ?? null),
      passageKey: passage?.key ?? null,
    })
  }

  /** From the caret, from drawing or from a passage back to the levels; false where one is there. */
  function leaveWork(): boolean {
    const inWork = document.activeElement?.closest('.work')
    if (!inWork && !passages.openKey.value && !passages.drawing.value) return false
    passages.leave()
    toLevels()
    return true
  }

  const passagesOn = (criterionId: number) =>
    passages.all.value.filter((one) => one.criterion_id === criterionId).length

  return { taskId, turn, passages, bank, feedback, remarkOf, passagesOn, record, leaveWork }
}
