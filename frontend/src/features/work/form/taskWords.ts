/** What a task is, in the words in which it is sent. */
import { now } from '@/api/clock'
import type { TaskIn, TaskOut } from '@/api/schema'

export type Sent = Required<TaskIn>

/** The keys of the criteria that a task asks. */
export const askedBy = (task: TaskOut) =>
  task.criteria.filter((one) => one.asked).map((one) => one.key)

/** From when students see a task: now or already, from a time on, or not yet. */
export function whenSeen(task?: TaskOut): 'now' | 'at' | 'draft' {
  if (!task) return 'now'
  if (task.set_at === null) return 'draft'
  return Date.parse(task.set_at) > now() ? 'at' : 'now'
}

/** A task as it is, as it would be sent. */
export function asSent(task: TaskOut): Sent {
  const seen = whenSeen(task)
  return {
    title: task.title,
    instructions: task.instructions,
    kind: task.kind,
    rubric_id: task.rubric?.id ?? null,
    criteria: task.all_criteria ? null : askedBy(task),
    due_at: task.due_at,
    points: task.own_points,
    practice: task.practice,
    closes_at: task.closes_at,
    rubric_shown: task.rubric_shown,
    late_per_day: task.late_per_day,
    late_most: task.late_most,
    attempts_rule: task.attempts_rule,
    category: task.category,
    starting_text: task.starting_text,
    student_ids: task.student_ids,
    draft: seen === 'draft',
    set_at: seen === 'at' ? task.set_at : null,
  }
}
