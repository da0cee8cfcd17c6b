/** In what order one goes through the pile; what was begun stands on top in each. */
import type { PileOut } from '@/api/schema'

export type PileOrder = 'task' | 'oldest' | 'newest' | 'again'
export const ORDERS: { name: PileOrder; label: string }[] = [
  { name: 'task', label: 'task by task' },
  { name: 'oldest', label: 'oldest work first' },
  { name: 'newest', label: 'newest work first' },
  { name: 'again', label: 'handed in again first' },
]

export type Waiting = PileOut['students'][number]
const begun = (one: Waiting) => ['started', 'changed'].includes(one.student.state)

/** Put what waits in an order: the students of tasks in theirs, or by when work was done. */
export function inPileOrder(students: Waiting[], order: PileOrder): Waiting[] {
  const at = (one: Waiting) => one.student.done_at ?? ''
  const ranks: ((one: Waiting) => number)[] = [(one) => (begun(one) ? 0 : 1)]
  if (order === 'again') ranks.push((one) => -one.student.attempt)
  return [...students].sort((one, other) => {
    for (const rank of ranks) {
      const difference = rank(one) - rank(other)
      if (difference) return difference
    }
    // What has no time comes last, whichever end one begins at.
    if (!at(one) || !at(other)) return Number(!at(one)) - Number(!at(other))
    return order === 'newest' ? at(other).localeCompare(at(one)) : at(one).localeCompare(at(other))
  })
}
