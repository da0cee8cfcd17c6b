import { now } from '@/api/clock'
import type { OwnTaskOut, RungOut } from '@/api/schema'
import { duration } from '@/design/format'

/** How near the due time is; clay once it has passed, or within three days. */
export function dueWords(task: OwnTaskOut, at = now()): { text: string; clay: boolean } {
  const minutes = Math.round((Date.parse(task.due_at!) - at) / 60_000)
  if (minutes < 0) return { text: `${duration(-minutes)} late`, clay: true }
  return { text: `in ${duration(minutes)}`, clay: minutes < 3 * 24 * 60 }
}

/** What a next piece of work would have to be, in words. */
export function nextWords(rung: RungOut): string {
  const next = rung.next_piece
  if (!next) return 'No single piece of work reaches mastery yet.'
  const level = next.half_way ? `half-way up from ${next.level}` : next.level
  return `One piece at ${level}${next.or_better ? ' or better' : ''} gets there.`
}
