/** What each kind of task is like: made from core/task_kinds.py, `make types`. */
export const taskKinds = {
  'handed-in': { hands_in: true, collects: true, watched: false, entries: false },
  observed: { hands_in: false, collects: false, watched: true, entries: false },
  'other-evidence': { hands_in: false, collects: true, watched: false, entries: true },
} as const
