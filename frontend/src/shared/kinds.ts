import type { TaskKind } from '@/api/schema'
import { taskKinds } from '@/api/taskKinds'

// What a kind of task is like, by the server's table; nothing of a task that is not there yet.

/** Whether students hand it in. */
export const handsIn = (kind?: TaskKind | null) => !!kind && taskKinds[kind].hands_in

/** Whether it has a rubric that work is marked by. */
export const hasRubric = (kind?: TaskKind | null) => !!kind && taskKinds[kind].rubric

/** Whether it is marked while it is done. */
export const isWatched = (kind?: TaskKind | null) => !!kind && taskKinds[kind].watched

/** Whether each attempt is an entry of its own. */
export const hasEntries = (kind?: TaskKind | null) => !!kind && taskKinds[kind].entries
