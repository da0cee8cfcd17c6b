import { computed, nextTick, ref, type Ref } from 'vue'
import type { ScaleOut } from '@/api/schema'
import {
  copyOf,
  haveSameNames,
  newCriterion,
  newKey,
  renameEverywhere,
  yesAndNo,
  type DraftCriterion,
  type DraftLevel,
} from './criteria'
import type { Draft } from './useRubric'

/** What can be done to the criteria of a draft, and to all of them together. */
export function useCriteria(draft: Draft, scale: Readonly<Ref<ScaleOut | undefined>>) {
  const said = ref('')
  const weighted = computed(() => draft.criteria.some((one) => one.weight !== null && !one.bonus))
  /** Whether a level renamed in one criterion is renamed in all with as many levels. */
  const sameNames = ref(false)

  /** What a new criterion starts with: the levels of the last one, else those of the class's scale. */
  function startingLevels(): DraftLevel[] {
    const last = draft.criteria.findLast((one) => one.kind === 'levels')
    const levels = last?.levels ?? scale.value?.levels ?? []
    return levels.map((level) => ({
      key: newKey(),
      name: level.name,
      points: 'points' in level ? level.points : level.value,
      descriptor: '',
    }))
  }

  function focusTitle(place: number) {
    void nextTick(() => document.querySelectorAll<HTMLElement>('.criterion-title')[place]?.focus())
  }

  function add(kind: DraftCriterion['kind']) {
    const levels = kind === 'yes-no' ? yesAndNo() : startingLevels()
    draft.criteria.push(newCriterion(kind, levels, weighted.value))
    focusTitle(draft.criteria.length - 1)
  }

  /** On to the next criterion, or to a new one after the last. */
  function next(index: number) {
    if (index + 1 < draft.criteria.length) focusTitle(index + 1)
    else add('levels')
  }

  /** Add criteria from a grid or another rubric; in a weighted rubric each has a weight to fill. */
  function take(criteria: DraftCriterion[]) {
    const first = draft.criteria.length
    const untouched = draft.criteria.every((one) => !one.title && !one.alignments.length)
    if (untouched) draft.criteria = []
    const some = weighted.value || criteria.some((one) => one.weight !== null)
    for (const one of criteria) if (some && !one.bonus) one.weight ??= ''
    draft.criteria.push(...criteria)
    if (some) for (const one of draft.criteria) if (!one.bonus) one.weight ??= ''
    if (untouched) beginSameNames()
    focusTitle(untouched ? 0 : first)
  }

  function duplicate(index: number) {
    draft.criteria.splice(index + 1, 0, copyOf(draft.criteria[index]!))
    focusTitle(index + 1)
  }

  function move(index: number, by: number) {
    const to = index + by
    if (to < 0 || to >= draft.criteria.length) return
    const [moved] = draft.criteria.splice(index, 1)
    draft.criteria.splice(to, 0, moved!)
    said.value = `${moved!.title || 'The criterion'} moved to place ${to + 1} of ${draft.criteria.length}`
  }

  function remove(index: number) {
    const [gone] = draft.criteria.splice(index, 1)
    said.value = `${gone?.title || 'The criterion'} is deleted`
  }

  function renamed(index: number, place: number) {
    if (sameNames.value) renameEverywhere(draft.criteria, draft.criteria[index]!, place)
  }

  /** Call all levels as the first criterion with as many of them does, from now on too. */
  function setSameNames(on: boolean) {
    sameNames.value = on
    if (!on) return
    for (const one of [...draft.criteria].reverse()) {
      one.levels.forEach((_, place) => renameEverywhere(draft.criteria, one, place))
    }
  }

  /** The names stay the same where they are so already. */
  function beginSameNames() {
    const levelled = draft.criteria.filter((one) => one.kind === 'levels').length
    sameNames.value = levelled > 1 && haveSameNames(draft.criteria)
  }

  function removeWeights() {
    for (const criterion of draft.criteria) criterion.weight = null
  }

  return {
    said,
    weighted,
    sameNames,
    add,
    next,
    take,
    duplicate,
    move,
    remove,
    renamed,
    setSameNames,
    beginSameNames,
    removeWeights,
  }
}
