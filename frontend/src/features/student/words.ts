import { now } from '@/api/clock'
import type { OwnTaskOut, RungOut } from '@/api/schema'
import { duration } from '@/design/format'
import { pieceWords } from '@/shared/nextPiece'

/** How near the due time is; clay once it has passed, or within three days. */
export function dueWords(task: OwnTaskOut, at = now()): { text: string; clay: boolean } {
  const left = Date.parse(task.due_at!) - at
  if (left < 0) return { text: `${duration(Math.ceil(-left / 60_000))} late`, clay: true }
  return { text: `in ${duration(Math.ceil(left / 60_000))}`, clay: left < 3 * 24 * 3_600_000 }
}

/** What a next piece of work would have to be, in words. */
export function nextWords(rung: RungOut): string {
  const next = rung.next_piece
  if (!next) return 'No single piece of work reaches mastery yet.'
  return `One piece at ${pieceWords(next)} gets there.`
}
