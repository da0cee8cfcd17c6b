import type { DeskState, TaskKind } from '@/api/schema'
import { several } from '@/design/format'
import { handsIn, hasEntries } from '@/shared/kinds'

/** Where a student stands, in words; clay where a person has to act. */
export function stateWords(state: DeskState, left: number): { text: string; clay: boolean } {
  switch (state) {
    case 'waiting':
      return { text: 'waiting', clay: false }
    case 'started':
      return { text: left ? `${left} left` : 'to finish', clay: true }
    case 'changed':
      return { text: left ? `${left} left` : 'finish again', clay: true }
    case 'done':
      return { text: 'done', clay: false }
    case 'missing':
      return { text: 'missing', clay: true }
    case 'not-yet':
      return { text: 'not yet', clay: false }
    case 'excused':
      return { text: 'excused', clay: false }
    case 'absent':
      return { text: 'absent', clay: false }
  }
}

export const KIND_WORDS = {
  'handed-in': 'handed in',
  observed: 'observed',
  'other-evidence': 'other evidence',
} satisfies Record<TaskKind, string>

/** What one go at a task is called: at other evidence the teacher enters them. */
export const attemptWord = (kind: TaskKind) => (hasEntries(kind) ? 'Entry' : 'Attempt')

/** What there is of a task, in one line. */
export function countWords(task: {
  kind: TaskKind
  handed_in: number
  students: number
  done: number
  missing: number
  excused: number
  asking: number
}): string {
  const parts = [
    !handsIn(task.kind)
      ? `${task.done} of ${several(task.students, 'student')} marked`
      : `${task.handed_in} of ${task.students} handed in, ${task.done} marked`,
  ]
  if (task.missing) parts.push(`${task.missing} missing`)
  if (task.excused) parts.push(`${task.excused} excused`)
  if (task.asking) parts.push(`${several(task.asking, 'asks', 'ask')} for another attempt`)
  return parts.join(' · ')
}
