import type { LocationQuery } from 'vue-router'

/** What can be handed out, on paper or as CSV, and where the server has it. */
export type SheetKind = 'class-list' | 'mastery' | 'coverage' | 'marks' | 'rubric' | 'outcomes'

/** Where the server has a sheet of a class, a task, a rubric or a student; `.csv` is the file. */
export function sheetAddress(what: SheetKind, classId: number, thing = 0): string {
  const inClass = `/api/classes/${classId}`
  switch (what) {
    case 'marks':
      return `/api/tasks/${thing}/sheets/marks`
    case 'rubric':
      return `/api/rubrics/${thing}/sheets/rubric`
    case 'outcomes':
      return `${inClass}/students/${thing}/sheets/outcomes`
    default:
      return `${inClass}/sheets/${what}`
  }
}

/** What of a wall is on its sheet; what is left out is all of it, today. */
export interface WallPart {
  asOf?: string
  students?: number[]
  outcomes?: number[]
}

/** None of them is not all of them: 0 is nobody's number. */
const listed = (numbers?: number[]) => numbers && (numbers.join('.') || '0')

/** The page on which a sheet is seen before it is printed or downloaded. */
export const sheetPage = (
  what: SheetKind,
  classId: number,
  thing?: number,
  part: WallPart = {},
) => ({
  name: 'sheet',
  params: { classId, what, ...(thing === undefined ? {} : { thing }) },
  query: {
    as_of: part.asOf || undefined,
    students: listed(part.students),
    outcomes: listed(part.outcomes),
  },
})

/** What of a wall is on its sheet, from the page's address to the query of the API. */
export function partOf(query: LocationQuery): [string, string][] {
  const found: [string, string][] = []
  for (const [name, value] of Object.entries(query)) {
    if (typeof value !== 'string') continue
    if (name === 'as_of') found.push([name, value])
    else if (name === 'students' || name === 'outcomes')
      for (const one of value.split('.')) found.push([name, one])
  }
  return found
}
