/** Where students stand with a task, as one looks for them, and the orders they can stand in. */
import type { StudentAtTaskOut } from '@/api/schema'

export type Group =
  'all' | 'done' | 'begun' | 'waiting' | 'missing' | 'not-yet' | 'absent' | 'excused' | 'late'

/** Those with a tone are the parts of the bar; everybody is in one of them. */
export const GROUPS: { name: Group; label: string; tone?: string }[] = [
  { name: 'all', label: 'All' },
  { name: 'done', label: 'Done', tone: 'ink' },
  { name: 'begun', label: 'Begun', tone: 'soft' },
  { name: 'waiting', label: 'Waiting', tone: 'edge' },
  { name: 'missing', label: 'Missing', tone: 'clay' },
  { name: 'not-yet', label: 'Not yet', tone: 'sunk' },
  { name: 'absent', label: 'Absent', tone: 'line' },
  { name: 'excused', label: 'Excused', tone: 'line' },
  { name: 'late', label: 'Late' },
]

export function inGroup(student: StudentAtTaskOut, group: Group): boolean {
  switch (group) {
    case 'all':
      return true
    case 'begun':
      return student.state === 'started' || student.state === 'changed'
    case 'late':
      return student.late_minutes > 0
    default:
      return student.state === group
  }
}

export type Order = 'name' | 'newest' | 'oldest' | 'state'
export const ORDERS: { name: Order; label: string }[] = [
  { name: 'name', label: 'name' },
  { name: 'newest', label: 'newest first' },
  { name: 'oldest', label: 'oldest first' },
  { name: 'state', label: 'what is to do' },
]
const TO_DO = ['changed', 'started', 'waiting', 'missing', 'not-yet', 'absent', 'done', 'excused']

/** Put students, who stand by name, in an order; those without a time come last. */
export function inOrder(students: StudentAtTaskOut[], order: Order): StudentAtTaskOut[] {
  if (order === 'name') return students
  const at = (one: StudentAtTaskOut) => one.done_at ?? ''
  return [...students].sort((one, other) => {
    if (order === 'state') return TO_DO.indexOf(one.state) - TO_DO.indexOf(other.state)
    if (!at(one) || !at(other)) return Number(!at(one)) - Number(!at(other))
    return order === 'newest' ? at(other).localeCompare(at(one)) : at(one).localeCompare(at(other))
  })
}
