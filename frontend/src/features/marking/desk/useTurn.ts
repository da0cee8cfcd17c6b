import { computed, nextTick, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'
import type { useDesk } from './useDesk'
import { handsIn } from '@/shared/kinds'

interface TurnOptions {
  /** In what order students stand. */
  inOrder?: (ids: number[]) => number[]
  /** The criterion stays the same from student to student. */
  stays?: () => boolean
}

/** Whose turn it is at the desk, and on which criterion; `goTo` shows another student. */
export function useTurn(
  it: ReturnType<typeof useDesk>,
  asked: MaybeRefOrGetter<number | undefined>,
  goTo: (studentId: number) => void,
  { inOrder = (ids) => ids, stays = () => false }: TurnOptions = {},
) {
  const { desk, where } = it
  /** The place of the open criterion among the criteria. */
  const at = ref(0)
  /** The student (and attempt) whose work is here and whose first open criterion is shown. */
  const here = ref('')
  let first = true
  const ids = computed(() => inOrder(desk.value?.task.where.map((one) => one.id) ?? []))
  const currentId = computed(() => {
    const id = toValue(asked)
    if (id && ids.value.includes(id)) return id
    return ids.value.find((one) => where.get(one)?.waits) ?? ids.value[0] ?? 0
  })
  /** Keys pressed before the student's work is here: kept in order, and done when it is. */
  let early: { turn: string; act: () => unknown }[] = []
  const mark = computed(() => it.markOf(currentId.value))
  const turnNow = computed(() => `${currentId.value} ${it.attemptOf(currentId.value)}`)
  const work = computed(() => it.works.get(currentId.value))
  const criteria = computed(() => desk.value?.criteria ?? [])
  const current = computed(() => criteria.value[at.value])
  const left = computed(() => it.left(currentId.value))

  watch(currentId, (id) => id && void it.fetchMark(id), { immediate: true })
  watch(() => (mark.value ? turnNow.value : ''), arrived, { immediate: true })

  function arrived(turn: string) {
    if (!turn) return
    here.value = turn
    if (first || !stays()) toFirstLeft()
    first = false
    doEarly(turn)
    const id = currentId.value
    // The work of whoever may come next is fetched ahead, so that stepping on is instant.
    const ahead = [nextWaiting(id), ids.value[ids.value.indexOf(id) + 1]]
    for (const next of ahead) if (next) void it.fetchMark(next)
  }

  function whenHere(act: () => unknown): boolean | void {
    if (here.value === turnNow.value) return act() === false ? false : undefined
    early.push({ turn: turnNow.value, act })
  }

  function doEarly(turn: string) {
    const keys = early
    early = []
    for (const key of keys) if (key.turn === turn) key.act()
  }

  function step(by: number) {
    const id = ids.value[ids.value.indexOf(currentId.value) + by]
    if (id !== undefined) goTo(id)
  }

  /** Open the first criterion that still needs a choice. */
  function toFirstLeft() {
    at.value = Math.max(
      0,
      criteria.value.findIndex((one) => one.id === left.value[0]?.id),
    )
  }

  /** To another criterion, so many down. */
  function go(by: number) {
    at.value = Math.max(0, Math.min(criteria.value.length - 1, at.value + by))
    void nextTick(() =>
      document.querySelector('[data-current=true]')?.scrollIntoView({ block: 'nearest' }),
    )
  }

  /** The next who waits after this one, going round. */
  function nextWaiting(id: number): number | undefined {
    const from = ids.value.indexOf(id)
    const others = [...ids.value.slice(from + 1), ...ids.value.slice(0, from)]
    return others.find((one) => where.get(one)?.waits)
  }

  /** Marking work on paper, of which nothing is entered: the next of whom nothing is here either. */
  function nextOnPaper(): number | undefined {
    if (work.value?.parts.length || !handsIn(desk.value?.task.kind)) return undefined
    const after = ids.value.slice(ids.value.indexOf(currentId.value) + 1)
    return after.find((one) => ['not-yet', 'missing'].includes(where.get(one)?.state ?? ''))
  }

  /** Whom marking goes on with when the student whose turn it is is finished. */
  const whoIsNext = () => nextWaiting(currentId.value) ?? nextOnPaper()

  return {
    at,
    ids,
    currentId,
    mark,
    work,
    criteria,
    current,
    left,
    whenHere,
    step,
    go,
    toFirstLeft,
    whoIsNext,
  }
}
