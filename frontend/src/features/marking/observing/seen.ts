/** What the room shows: what the server gave, and over it what was tapped and is not sent yet. */
import type { ObservationOut, StudentAtHandOut, TapChoice } from '@/api/schema'
import type { Save } from '@/shared/saving/saves'

export type Choice = Required<TapChoice>
export const NOTHING: Choice = { level_id: null, half_way: false, not_assessed: false }

export const isNothing = (choice: Choice) => choice.level_id === null && !choice.not_assessed

export const sameChoice = (one: Choice, other: Choice) =>
  one.level_id === other.level_id &&
  one.half_way === other.half_way &&
  one.not_assessed === other.not_assessed

/** What was seen of a student at an earlier observation, and on which day. */
export interface Earlier {
  day: string
  choices: ReadonlyMap<number, Choice>
  remarks: ReadonlyMap<number, string>
}

/**
 * A student as the room shows them; `carried` are criteria that stand from an earlier attempt.
 * `earlier` is what was seen of them at an earlier observation, unless a teacher opened another one:
 * as long as nothing is seen of them today, that is what is shown.
 */
export interface Shown {
  id: number
  choices: ReadonlyMap<number, Choice>
  carried: ReadonlySet<number>
  remarks: ReadonlyMap<number, string>
  absent: boolean
  earlier: Earlier | null
}

type Tapped = Pick<
  Save,
  | 'kind'
  | 'studentId'
  | 'criterionId'
  | 'level_id'
  | 'half_way'
  | 'not_assessed'
  | 'text'
  | 'absent'
>

/** A student by what the server gave, and over it their taps that wait, oldest first. */
export function shownOf(one: StudentAtHandOut, day: string, taps: readonly Tapped[]): Shown {
  const carried = new Set<number>()
  const choices = new Map<number, Choice>()
  for (const { criterion_id, carried_from, level_id, half_way, not_assessed } of one.choices) {
    choices.set(criterion_id, { level_id, half_way, not_assessed })
    if (carried_from !== null) carried.add(criterion_id)
  }
  const remarks = new Map(one.remarks.map((said) => [said.criterion_id ?? 0, said.text]))
  let absent = one.student.absent_on === day
  for (const tap of taps) {
    if (tap.kind === 'absent') absent = Boolean(tap.absent)
    else if (tap.kind === 'said') remarks.set(tap.criterionId ?? 0, tap.text)
    else {
      const { level_id, half_way, not_assessed } = tap
      const choice = { level_id, half_way, not_assessed }
      choices.set(tap.criterionId ?? 0, choice)
      carried.delete(tap.criterionId ?? 0)
      if (!isNothing(choice)) absent = false
    }
  }
  for (const [criterion, choice] of choices) if (isNothing(choice)) choices.delete(criterion)
  return { id: one.student.id, choices, carried, remarks, absent, earlier: earlierOf(one) }
}

function earlierOf({ earlier, opened }: StudentAtHandOut): Earlier | null {
  if (!earlier || opened) return null
  const choices = new Map<number, Choice>()
  for (const { criterion_id, level_id, half_way, not_assessed } of earlier.choices)
    choices.set(criterion_id, { level_id, half_way, not_assessed })
  const remarks = new Map(earlier.remarks.map((said) => [said.criterion_id ?? 0, said.text]))
  return { day: earlier.day, choices, remarks }
}

/** Whether anything was seen of them in the attempt at hand; what was carried over was not. */
export const wasSeen = (shown: Shown) =>
  [...shown.choices.keys()].some((criterion) => !shown.carried.has(criterion))

/** Whether they were seen at an earlier observation only, and nothing is said of them today. */
export const wasSeenEarlier = (shown: Shown) =>
  shown.earlier !== null && !wasSeen(shown) && !shown.remarks.size

/** Whether a second observation has begun: somebody who was seen before was seen again today. */
export const isSeenAgain = (shown: ReadonlyMap<number, Shown>) =>
  [...shown.values()].some((one) => one.earlier !== null && !wasSeenEarlier(one))

/** Those who can be tapped at all. */
export const isThere = (one: StudentAtHandOut) => one.student.state !== 'excused'

/**
 * How many are still to be seen: here, not excused, and nothing chosen yet; where all are seen
 * `again`, today, else at all.
 */
export function toSee(
  students: readonly StudentAtHandOut[],
  shown: ReadonlyMap<number, Shown>,
  again: boolean,
) {
  return students.filter((one) => {
    const it = shown.get(one.student.id)
    return isThere(one) && it && !it.absent && !wasSeen(it) && (again || !wasSeenEarlier(it))
  }).length
}

/**
 * Whom a level for all is for: neither absent nor excused, with nothing on that criterion, and not
 * seen earlier unless all are seen `again`.
 */
export function unmarked(
  students: readonly StudentAtHandOut[],
  shown: ReadonlyMap<number, Shown>,
  criterionId: number,
  again: boolean,
): number[] {
  return students.flatMap((one) => {
    const it = shown.get(one.student.id)
    const open = isThere(one) && it && !it.absent && !it.choices.has(criterionId)
    return open && (again || !wasSeenEarlier(it)) ? [it.id] : []
  })
}

/** In the order of seats; those without one come after, as they stood. */
export function bySeats<One extends { student: { id: number } }>(
  students: readonly One[],
  seats: readonly number[],
): One[] {
  const place = new Map(seats.map((id, at) => [id, at]))
  const at = (one: One) => place.get(one.student.id) ?? seats.length
  return [...students].sort((one, other) => at(one) - at(other))
}

/** The class on a later day, as far as it is known without the server: nobody was seen yet. */
export function onDay(found: ObservationOut, day: string): ObservationOut {
  if (day <= found.day) return found
  return {
    ...found,
    day,
    students: found.students.map((one) => ({
      ...one,
      attempt: one.choices.length ? (one.attempt ?? 0) + 1 : one.attempt,
      earlier: one.choices.length
        ? { day: found.day, choices: one.choices, remarks: one.remarks }
        : one.earlier,
      opened: one.opened && !one.choices.length,
      choices: [],
      remarks: [],
      files: [],
    })),
  }
}
