/** What a student sees now, in words: the plain sign beside every mark. */
import type { HandingBackOut } from '@/api/schema'
import { day, dayAndTime } from '@/design/format'

export function seenWords(one: HandingBackOut, timeZone: string): { text: string; clay: boolean } {
  if (one.coming_at && !one.seen_at)
    return { text: `seen from ${dayAndTime(one.coming_at, timeZone)}`, clay: false }
  if (one.seen_at) {
    const read = one.read_at ? ', read' : ''
    const changed = one.changed ? ', changed since' : ''
    return { text: `handed back ${day(one.seen_at, timeZone)}${read}${changed}`, clay: one.changed }
  }
  if (one.taken_back_at)
    return { text: `taken back ${day(one.taken_back_at, timeZone)}`, clay: false }
  return { text: one.finished ? 'not handed back' : '', clay: false }
}
