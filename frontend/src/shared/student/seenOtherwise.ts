import type { MasteryOut, SeenOtherwiseOut } from '@/api/schema'

type Levels = { levels: { name: string }[] }

const WHY = 'part of what counts is not handed back, or not shown to them.'

function words(mastery: MasteryOut, slipped: boolean, scale: Levels): string {
  if (mastery.level === null) return 'no evidence yet'
  const level = scale.levels[mastery.level]?.name
  const state = mastery.state === 'mastered' ? ', mastered' : slipped ? ', slipped' : ''
  return `${mastery.value}, ${level}${state}`
}

/** What a student sees of an outcome, where it is not what their teachers see. */
export const seenByStudent = (seen: SeenOtherwiseOut, scale: Levels) =>
  `They see ${words(seen.mastery, seen.slipped, scale)}: ${WHY}`

/** What teachers see, beside what the student sees. */
export const seenByTeachers = (seen: SeenOtherwiseOut, scale: Levels) =>
  `You see ${words(seen.teachers, false, scale)}: ${WHY}`
