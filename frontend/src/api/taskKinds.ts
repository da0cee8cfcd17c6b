/** What each kind of task is like: made from core/task_kinds.py, `make types`. */
export const taskKinds = {
  'handed-in': {
    hands_in: true,
    collects: true,
    watched: false,
    entries: false,
    rubric: true,
  },
  observed: {
    hands_in: false,
    collects: false,
    watched: true,
    entries: false,
    rubric: true,
  },
  'other-evidence': {
    hands_in: false,
    collects: true,
    watched: false,
    entries: true,
    rubric: true,
  },
} as const
