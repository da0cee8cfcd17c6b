import type { NextPieceOut } from '@/api/schema'

/** What a piece would have to be to reach mastery: "Meeting or better", "half-way up from Meeting",
 * or the value where no level does it. */
export function pieceWords(piece: NextPieceOut): string {
  if (piece.level === null) return `${piece.smallest}`
  const level = piece.half_way ? `half-way up from ${piece.level}` : piece.level
  return `${level}${piece.or_better ? ' or better' : ''}`
}
/** The same with figures: the value of the level, and the lowest value that does. */
export function pieceFigures(piece: NextPieceOut): string {
  const lowest = piece.smallest === null ? '' : `; the lowest value that does is ${piece.smallest}`
  return piece.level === null ? '' : ` (${piece.value}${lowest})`
}
