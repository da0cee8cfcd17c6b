import { levelSign } from '@/design/format'
import type { ChoiceOut, CriterionOut } from '@/api/schema'
import type { useDesk } from './useDesk'
import type { useTurn } from './useTurn'

type Chosen = Pick<ChoiceOut, 'level_id' | 'half_way' | 'not_assessed'>

/** A choice in words. */
export function nameOfChoice({ levels }: CriterionOut, choice: Chosen | undefined): string {
  if (choice?.not_assessed) return 'not assessed'
  const level = levels.find((one) => one.id === choice?.level_id)
  return level ? levelSign(level.name, choice?.half_way) : 'nothing chosen'
}

/** What choosing means at the desk, for the student whose turn it is; the same choice again changes nothing. */
export function useChoosing(it: ReturnType<typeof useDesk>, turn: ReturnType<typeof useTurn>) {
  const { mark, criteria, current, currentId } = turn

  function choiceOf(criterionId: number) {
    return mark.value?.choices.find((one) => one.criterion_id === criterionId)
  }

  function chooseLevel(criterionId: number, levelId: number) {
    const now = choiceOf(criterionId)
    // What was carried over is marked anew by the same level, too.
    if (now?.level_id === levelId && !now.half_way && !now.carried_from) return
    it.choose(currentId.value, criterionId, {
      level_id: levelId,
      half_way: false,
      not_assessed: false,
    })
  }

  /** Choose nothing any more; false where nothing was chosen. */
  function clear(criterionId: number): boolean {
    const now = choiceOf(criterionId)
    if (!now || (now.level_id === null && !now.not_assessed)) return false
    it.choose(currentId.value, criterionId, {
      level_id: null,
      half_way: false,
      not_assessed: false,
    })
    return true
  }

  /** Choose on the open criterion, 0 the lowest level; false where there is no such level. */
  function choosePlace(place: number): boolean {
    const level = current.value?.levels[place]
    if (!current.value || !level) return false
    chooseLevel(current.value.id, level.id)
    return true
  }

  /** From the chosen level half-way up to the next, and back; false where it cannot be. */
  function toggleHalf(criterionId: number): boolean {
    const criterion = criteria.value.find((one) => one.id === criterionId)
    const now = choiceOf(criterionId)
    if (!criterion?.half_way || criterion.kind === 'yes-no' || !now || now.level_id === null)
      return false
    if (criterion.levels.at(-1)?.id === now.level_id) return false
    it.choose(currentId.value, criterionId, { ...now, half_way: !now.half_way })
    return true
  }

  function notAssessed(criterionId: number) {
    if (choiceOf(criterionId)?.not_assessed) return
    it.choose(currentId.value, criterionId, { level_id: null, half_way: false, not_assessed: true })
  }

  return { choiceOf, chooseLevel, choosePlace, toggleHalf, notAssessed, clear }
}
