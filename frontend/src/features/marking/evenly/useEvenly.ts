import { useQuery } from '@pinia/colada'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type ComputedRef } from 'vue'
import { api, ask } from '@/api/client'
import type { CriterionOut, MarkOut, SpreadOut } from '@/api/schema'
import { keys } from '@/shared/queries'
import { coverNames } from './coverNames'

/** How the rubric is gone through: a criterion at a time, as a whole, or one for all students. */
export type Way = 'one' | 'whole' | 'across'
export const WAYS: { name: Way; label: string }[] = [
  { name: 'one', label: 'One at a time' },
  { name: 'whole', label: 'Whole rubric' },
  { name: 'across', label: 'One for all' },
]
export const useWay = () => useLocalStorage<Way>('jade-ladder.desk.way', 'one')

/** Whether names are hidden at a task: of each by itself. */
function useHiding(taskId: number) {
  const tasks = useLocalStorage<number[]>('jade-ladder.desk.hidden-at', [])
  return computed({
    get: () => tasks.value.includes(taskId),
    set: (on) => {
      const others = tasks.value.filter((one) => one !== taskId)
      tasks.value = on ? [...others, taskId] : others
    },
  })
}

/**
 * Names that are hidden stay so until the set is finished, and are shown from then on; cover names
 * tell students apart until then. What is seen in the room cannot be marked so (`able`).
 */
export function useCoverNames(
  taskId: number,
  able: () => boolean,
  students: () => readonly MarkOut['student'][],
) {
  const hiding = useHiding(taskId)
  /** They were hidden, and are shown since the set is finished. */
  const ended = ref(false)
  const waits = computed(() => students().some((one) => one.waits))
  watch(
    () => hiding.value && students().length > 0 && !waits.value,
    (over) => {
      if (!over) return
      hiding.value = false
      ended.value = true
    },
    { immediate: true },
  )
  function toggle() {
    if (!able() || !waits.value) return false
    ended.value = false
    hiding.value = !hiding.value
    return true
  }
  const names = computed(() =>
    coverNames(
      taskId,
      students().map((one) => one.id),
    ),
  )
  const hidden = computed(() => able() && hiding.value && waits.value)
  /** The order of names tells who is who, too. */
  const inOrder = (ids: number[]) =>
    hidden.value
      ? [...ids].sort((a, b) => (names.value.get(a)! < names.value.get(b)! ? -1 : 1))
      : ids
  return { hidden, ended, toggle, coverName: (id: number) => names.value.get(id) ?? '', inOrder }
}

/** How levels have fallen, asked for where it is shown; fetched anew when what was marked is saved. */
export function useSpread(taskId: number, shown: () => boolean) {
  const { data } = useQuery({
    key: () => keys.spread(taskId),
    query: () =>
      ask(api.GET('/api/tasks/{task_id}/spread', { params: { path: { task_id: taskId } } })),
    enabled: shown,
    staleTime: 0,
  })
  return computed(() => new Map(data.value?.map((one) => [one.criterion_id, one])))
}

/** Whose turn it is when one criterion is marked for all students, and then the next. */
export function nextAcross(
  criteria: CriterionOut[],
  at: number,
  ids: number[],
  currentId: number,
  waits: (id: number) => boolean,
  lacks: (id: number, criterionId: number) => boolean,
): { student: number; at: number } | null {
  const from = ids.indexOf(currentId)
  const after = [...ids.slice(from + 1), ...ids.slice(0, from + 1)]
  for (let step = 0; step < criteria.length; step++) {
    const place = (at + step) % criteria.length
    const criterion = criteria[place]!
    if (criterion.bonus) continue
    const order = step ? ids : after
    const student = order.find((id) => waits(id) && lacks(id, criterion.id))
    if (student !== undefined) return { student, at: place }
  }
  return null
}

export type Spreads = ComputedRef<Map<number, SpreadOut>>
