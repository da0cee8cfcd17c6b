/** What is kept of the server's answers: the key of each query, and what a change makes stale. */
import { useQueryCache, type EntryKey } from '@pinia/colada'

export const keys = {
  session: ['session'],
  notices: ['notices'],
  find: ['find'],
  sheet: (address: string) => ['wall', 'sheet', address],
  account: ['account'],
  accounts: ['account', 'all'],
  untaughtClasses: ['account', 'untaught'],
  ownTasks: ['own', 'tasks'],
  ownTask: (taskId: number) => ['own', 'tasks', taskId],
  ownResult: (taskId: number, attempt: number | null) => ['own', 'results', taskId, attempt],
  ownLadder: (since: string | null) => ['own', 'ladder', since],
  ownMessages: ['own', 'messages'],
  ownKinds: ['own', 'messages', 'kinds'],
  sentMessages: (taskId: number) => ['task', taskId, 'messages'],
  outbox: ['account', 'outbox'],
  ownAccount: ['own', 'account'],
  slips: (classId: number) => ['students', classId, 'slips'],
  attempts: (taskId: number, studentId: number) => ['task', taskId, 'attempts', studentId],
  setAside: (taskId: number) => ['task', taskId, 'set aside'],
  belowMastery: (taskId: number) => ['task', taskId, 'below mastery'],
  entries: (taskId: number) => ['task', taskId, 'entries'],
  history: (taskId: number, studentId: number, attempt: number, version: number) => [
    'task',
    taskId,
    'history',
    studentId,
    attempt,
    version,
  ],
  exemplars: (taskId: number) => ['task', taskId, 'exemplars'],
  spread: (taskId: number) => ['task', taskId, 'spread'],
  totals: (taskId: number) => ['task', taskId, 'totals'],
  taskParts: (taskId: number) => ['task', taskId, 'parts'],
  handingBack: (taskId: number) => ['task', taskId, 'handing-back'],
  handingIn: (taskId: number) => ['task', taskId, 'handing-in'],
  resultOfStudent: (taskId: number, studentId: number) => ['task', taskId, 'result', studentId],
  ladderOfStudent: (classId: number, studentId: number, since: string | null) => [
    'wall',
    classId,
    'own-ladder',
    studentId,
    since,
  ],
  colleagues: ['account', 'colleagues'],
  classTeachers: (classId: number) => ['classes', 'teachers', classId],
  classes: ['classes'],
  students: (classId: number) => ['students', classId],
  scales: ['scales'],
  presets: ['scales', 'presets'],
  outcomes: (classId: number) => ['outcomes', classId],
  outcomesElsewhere: (classId: number) => ['outcomes', classId, 'elsewhere'],
  outcomePage: (classId: number, outcomeId: number) => ['outcome-page', classId, outcomeId],
  coverage: (classId: number) => ['coverage', classId],
  rubrics: ['rubrics'],
  sharedRubrics: ['rubrics', 'shared'],
  rubric: (rubricId: number) => ['rubrics', rubricId],
  rubricFit: (rubricId: number, classId: number) => ['rubrics', rubricId, 'fit', classId],
  revisedRubric: (rubricId: number) => ['rubrics', rubricId, 'revised'],
  revisions: (rubricId: number, old: number, wanted: number) => [
    'rubrics',
    rubricId,
    'sides',
    old,
    wanted,
  ],
  revisionEffects: (rubricId: number, target: number, tasks: number[]) => [
    'rubrics',
    rubricId,
    'effects',
    target,
    ...tasks,
  ],
  tasks: (classId: number) => ['tasks', classId],
  task: (taskId: number) => ['task', taskId],
  work: (taskId: number, studentId: number, attempt: number) => [
    'task',
    taskId,
    'work',
    studentId,
    attempt,
  ],
  excuseEffects: (taskId: number, studentId: number) => ['task', taskId, 'excusing', studentId],
  pile: ['pile'],
  bank: (search: string) => ['bank', search],
  wall: (classId: number, asOf: string | null) => ['wall', classId, asOf],
  studentPage: (classId: number, studentId: number) => ['wall', classId, 'student', studentId],
  trail: (classId: number, studentId: number, outcomeId: number, asOf: string | null) => [
    'wall',
    classId,
    'trail',
    studentId,
    outcomeId,
    asOf,
  ],
} satisfies Record<string, EntryKey | ((...of: never[]) => EntryKey)>

/** What is worked out from marks: every page that shows how students stand. */
const FROM_MARKS = [
  ['tasks'],
  ['task'],
  ['pile'],
  ['bank'],
  ['wall'],
  ['coverage'],
  ['outcome-page'],
]

/** Says what was changed: what depends on it is fetched anew where it is shown, and stale elsewhere. */
export function useRefresh() {
  const cache = useQueryCache()
  const stale = async (...several: EntryKey[]) => {
    await Promise.all(several.map((key) => cache.invalidateQueries({ key })))
  }
  return {
    classes: () => stale(keys.classes, keys.find),
    account: () => stale(keys.account, keys.session, keys.classes),
    students: () => stale(['students'], keys.classes, keys.find, ...FROM_MARKS),
    outcomes: () =>
      stale(['outcomes'], keys.scales, keys.classes, keys.find, keys.rubrics, ...FROM_MARKS),
    rubrics: () => stale(keys.rubrics, keys.find, ['coverage'], ['outcome-page']),
    tasks: () => stale(keys.classes, keys.find, keys.rubrics, ...FROM_MARKS),
    marks: () => stale(...FROM_MARKS),
    wall: () => stale(['wall'], ['coverage'], ['outcome-page']),
    own: () => stale(['own']),
    everything: () => stale([]),
  }
}
