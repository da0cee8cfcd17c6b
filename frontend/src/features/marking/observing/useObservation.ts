import { deviceTime } from '@/api/clock'
import { useDocumentVisibility, useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { MarkOut, ObservationOut } from '@/api/schema'
import { isTap, type Save } from '@/shared/saving/saves'
import { useSaves } from '@/shared/saving/useSaves'
import { keepClass, keptClass, type Undoable } from './kept'
import {
  isNothing,
  isSeenAgain,
  NOTHING,
  onDay,
  sameChoice,
  shownOf,
  toSee,
  unmarked,
  wasSeen,
  wasSeenEarlier,
  type Choice,
  type Shown,
} from './seen'

const MOST_UNDONE = 10
const AGAIN = 'jade-ladder.observing.again'
const EVERY = 20_000

/** A tap that another device came before: what was tapped here, and what the student shows now. */
export interface Conflict {
  save: Save
  message: string
  stale: boolean
}

/**
 * The class at hand for one task: what the server gave last, kept in this browser, and what is
 * tapped over it. Taps wait in the queue of saves, in order, each with its own key.
 */
export function useObservation(
  taskId: number,
  person: () => number | null,
  timeZone: () => string,
) {
  const saves = useSaves()
  const given = shallowRef<ObservationOut | null>(null)
  /** When the server gave it, by this device's clock. */
  const givenAt = ref(0)
  const problem = ref<Problem | null>(null)
  /** Whether what is shown was kept from before, since the server does not answer. */
  const fromBefore = ref(false)
  const undo = shallowRef<readonly Undoable[]>([])
  const presentDay = ref('')

  const taps = computed(() => {
    const found = new Map<number, Save[]>()
    for (const save of saves.waiting) {
      if (save.taskId !== taskId || !isTap(save)) continue
      const there = found.get(save.studentId)
      if (there) there.push(save)
      else found.set(save.studentId, [save])
    }
    return found
  })
  const waiting = computed(() => [...taps.value.values()].reduce((sum, one) => sum + one.length, 0))
  const found = computed(() => given.value && onDay(given.value, presentDay.value))
  const shown = computed(() => {
    const now = found.value
    if (!now) return new Map<number, Shown>()
    return new Map(
      now.students.map((one) => [
        one.student.id,
        shownOf(one, now.day, taps.value.get(one.student.id) ?? []),
      ]),
    )
  })
  /** The day on which the teacher said that a second observation begins. */
  const saidAgain = ref(keptAgain())
  const again = computed(
    () => saidAgain.value === `${taskId} ${found.value?.day}` || isSeenAgain(shown.value),
  )
  function keptAgain(): string {
    try {
      return localStorage.getItem(AGAIN) ?? ''
    } catch {
      return ''
    }
  }
  /** Students who were seen at an earlier observation, which is what is shown of them. */
  const isQuiet = (studentId: number) => {
    const one = shown.value.get(studentId)
    return !again.value && one !== undefined && wasSeenEarlier(one)
  }
  const someEarlier = computed(() => [...shown.value.values()].some((one) => one.earlier))
  /** Where some were seen on an earlier day: who was seen neither then nor today. */
  const neverSeen = (studentId: number) => {
    const one = shown.value.get(studentId)
    return (
      someEarlier.value && !again.value && !!one && !one.earlier && !wasSeen(one) && !one.absent
    )
  }
  const left = computed(() => toSee(found.value?.students ?? [], shown.value, again.value))
  /** How many marks are to be finished: those the server knows of, once all is sent. */
  const conflicts = computed(() => {
    const by = new Map<number, Conflict[]>()
    for (const save of saves.refused) {
      if (save.taskId !== taskId || !isTap(save)) continue
      const one = { save, message: save.refused!.message, stale: save.refused!.stale }
      by.set(save.studentId, [...(by.get(save.studentId) ?? []), one])
    }
    return by
  })

  /** What day it is at the school, by the server's clock as far as this device can tell. */
  function tellDay() {
    if (!given.value) return
    const now = Date.parse(given.value.loaded_at) + deviceTime() - givenAt.value
    presentDay.value = new Intl.DateTimeFormat('sv-SE', {
      dateStyle: 'short',
      timeZone: timeZone(),
    }).format(now)
  }

  let answered = 0
  let loading: Promise<void> | null = null
  const load = () => (loading ??= fetchIt().finally(() => (loading = null)))

  async function fetchIt() {
    try {
      for (;;) {
        const before = answered
        const now = await ask(
          api.GET('/api/tasks/{task_id}/observation', { params: { path: { task_id: taskId } } }),
        )
        // A tap that was answered meanwhile may not be in it.
        if (before !== answered) continue
        take(now, deviceTime(), false)
        problem.value = null
        void keep()
        return
      }
    } catch (error) {
      problem.value = asProblem(error)
      if (problem.value.gone && !given.value) await restore()
      else if (given.value) fromBefore.value = problem.value.gone
    }
  }

  function take(now: ObservationOut, at: number, before: boolean) {
    given.value = now
    givenAt.value = at
    fromBefore.value = before
    tellDay()
  }

  async function restore() {
    const whose = person()
    const kept = whose === null ? undefined : await keptClass(whose, taskId).catch(() => undefined)
    if (!kept || given.value) return
    take(kept.found, kept.at, true)
    undo.value = kept.undo
  }

  /** Whether what is shown is on its way into this browser's storage. */
  const keeping = ref(false)
  let more = false
  async function keep() {
    more = true
    if (keeping.value) return
    keeping.value = true
    while (more) {
      more = false
      const whose = person()
      if (whose === null || !given.value) break
      const kept = { found: given.value, at: givenAt.value, undo: [...undo.value] }
      await keepClass(whose, taskId, kept).catch(() => {})
    }
    keeping.value = false
  }

  /** Take the mark that the server answers a tap with: of the attempt that is shown, or none. */
  function answer(save: Save, mark: MarkOut) {
    if (save.taskId !== taskId || !given.value) return
    answered += 1
    let opened = 0
    let older = false
    const students = given.value.students.map((one) => {
      if (one.student.id !== save.studentId) return one
      opened = Number(isOpen(mark.student)) - Number(isOpen(one.student))
      const { student } = mark
      if (one.attempt !== null && mark.attempt < one.attempt && save.kind !== 'absent') {
        // Of an earlier day, or nothing stands any more in the attempt that was shown.
        older = true
        return one
      }
      if (save.kind === 'absent') return { ...one, student }
      return { ...one, student, attempt: mark.attempt, ...standing(mark) }
    })
    const unfinished = given.value.unfinished + opened
    given.value = { ...given.value, students, unfinished }
    void keep()
    if (older) void load()
  }

  /** Something was chosen that is not finished yet. */
  const isOpen = ({ state }: MarkOut['student']) => state === 'started' || state === 'changed'

  const standing = (mark: MarkOut) => ({
    choices: mark.choices.filter((one) => one.level_id !== null || one.not_assessed),
    remarks: mark.remarks.filter((one) => one.criterion_id !== null && one.text),
  })

  onScopeDispose(
    saves.listen({
      answered: answer,
      refused: (save) => save.taskId === taskId && isTap(save) && void load(),
    }),
  )

  const labelOf = (id: number) =>
    `${found.value?.students.find((one) => one.student.id === id)?.student.name ?? ''}, ${found.value?.title ?? ''}`

  function send(studentId: number, tap: Partial<Save> & Pick<Save, 'kind'>) {
    const one = found.value?.students.find((other) => other.student.id === studentId)
    saves.add({
      label: labelOf(studentId),
      classId: found.value?.class_id ?? 0,
      taskId,
      studentId,
      attempt: one?.attempt ?? 1,
      criterionId: null,
      level_id: null,
      half_way: false,
      not_assessed: false,
      text: '',
      version: 0,
      loadedAt: given.value?.loaded_at,
      ...tap,
    })
  }

  const choiceOf = (studentId: number, criterionId: number) =>
    shown.value.get(studentId)?.choices.get(criterionId) ?? NOTHING

  function put(
    studentId: number,
    criterionId: number,
    choice: Choice,
    before: Choice,
    carries?: boolean,
  ) {
    send(studentId, { kind: 'seen', criterionId, ...choice, before, carries })
  }

  function remember(made: Undoable[]) {
    const presses = [...new Set([...undo.value, ...made].map((one) => one.press))]
    const last = new Set(presses.slice(-MOST_UNDONE))
    undo.value = [...undo.value, ...made].filter((one) => last.has(one.press))
    void keep()
  }

  /** What was tapped on somebody who was seen on an earlier day: it is asked whether that begins. */
  const asking = shallowRef<{ studentId: number; go: () => void } | null>(null)

  /** A second observation begins: what was tapped is done, and nothing more is asked today. */
  function seeAgain() {
    const go = asking.value?.go
    asking.value = null
    sayAgain(`${taskId} ${found.value?.day}`)
    go?.()
  }

  function sayAgain(what: string) {
    saidAgain.value = what
    try {
      localStorage.setItem(AGAIN, what)
    } catch {
      // It is asked again after a reload.
    }
  }

  /** Tap a level for one or several; all of it is one press. Gives for how many. */
  function choose(studentIds: readonly number[], criterionId: number, to: Choice): number {
    const quiet = studentIds.find(isQuiet)
    if (quiet !== undefined) {
      asking.value = { studentId: quiet, go: () => void choose(studentIds, criterionId, to) }
      return 0
    }
    const press = `${deviceTime()}.${Math.random()}`
    const made: Undoable[] = []
    for (const studentId of studentIds) {
      const from = choiceOf(studentId, criterionId)
      const carried = shown.value.get(studentId)?.carried.has(criterionId)
      if (sameChoice(from, to) && !carried) continue
      // A tap ends an absence, so that undoing it brings it back: after the choice, as it is undone.
      if (shown.value.get(studentId)?.absent && !isNothing(to))
        made.push({ press, studentId, criterionId: null, from: true, to: false })
      put(studentId, criterionId, to, from)
      made.push({ press, studentId, criterionId, from, to, carried })
    }
    if (made.length) remember(made)
    return made.length
  }

  function setAbsent(studentId: number, absent: boolean) {
    send(studentId, { kind: 'absent', absent })
    const press = `${deviceTime()}.${Math.random()}`
    remember([{ press, studentId, criterionId: null, from: !absent, to: absent }])
  }

  function write(studentId: number, criterionId: number, text: string) {
    const before = shown.value.get(studentId)?.remarks.get(criterionId) ?? ''
    if (before !== text) send(studentId, { kind: 'said', criterionId, text, saidBefore: before })
  }

  /** Undo the last press, also in the order in which its taps are sent. */
  function undoLast() {
    const press = undo.value.at(-1)?.press
    if (!press) return 0
    const undone = undo.value.filter((one) => one.press === press)
    for (const one of undone.toReversed()) {
      if (typeof one.from === 'boolean') send(one.studentId, { kind: 'absent', absent: one.from })
      else put(one.studentId, one.criterionId!, one.from, one.to as Choice, one.carried)
    }
    undo.value = undo.value.filter((one) => one.press !== press)
    // Nobody is seen again any more: what was seen before is shown, and it is asked anew.
    if (!isSeenAgain(shown.value)) sayAgain('')
    void keep()
    return undone.length
  }

  /** Decide between what was tapped here and what stands there now. */
  const decide = (save: Save, mine: boolean) => saves.decide(save, mine, 0)

  const undoable = computed(() => undo.value.length > 0)
  useIntervalFn(tellDay, 30_000)
  const visible = useDocumentVisibility()
  useIntervalFn(() => {
    if (visible.value === 'visible' && saves.state === 'idle') void load()
  }, EVERY)
  watch(visible, (now) => {
    if (now !== 'visible') return
    tellDay()
    saves.run()
    void load()
  })
  useEventListener(window, 'online', () => {
    saves.run()
    void load()
  })
  watch(
    () => saves.state,
    (now, before) => {
      if (now === 'idle' && before === 'gone') void load()
    },
  )

  return {
    found,
    shown,
    problem,
    fromBefore,
    givenAt,
    left,
    waiting,
    keeping,
    conflicts,
    undoable,
    again,
    isQuiet,
    neverSeen,
    someEarlier,
    asking,
    seeAgain,
    load,
    restore,
    choose,
    setAbsent,
    write,
    undoLast,
    decide,
    choiceOf,
    isNothing,
    unmarkedOn: (criterionId: number) =>
      unmarked(found.value?.students ?? [], shown.value, criterionId, again.value),
    /** What is shown on a criterion: what was seen today, else at the earlier observation. */
    shownOn(studentId: number, criterionId: number) {
      if (!isQuiet(studentId)) return choiceOf(studentId, criterionId)
      return shown.value.get(studentId)!.earlier!.choices.get(criterionId) ?? NOTHING
    },
    arrange: (seats: number[]) => {
      if (given.value) given.value = { ...given.value, seats }
      void keep()
    },
  }
}
