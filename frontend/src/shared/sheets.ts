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

/** The page on which a sheet is seen before it is printed or downloaded. */
export const sheetPage = (what: SheetKind, classId: number, thing?: number) => ({
  name: 'sheet',
  params: { classId, what, ...(thing === undefined ? {} : { thing }) },
})
