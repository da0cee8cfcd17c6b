/** What a cell of the wall says and how it is drawn, worked out once for each cell. */
import type { ScaleOut } from '@/api/schema'
import { several } from '@/design/format'
import { ladderRungs } from '@/design/rungs'
import { ladderWords, tight, type Cell, type Shown } from '@/features/mastery/wall'

export interface CellLook {
  /** For screen readers. */
  words: string
  title: string | undefined
  /** Classes beside the common one. */
  tone: string
  /** The background of the ladder, where it is drawn. */
  ladder: string | null
  /** What stands in place of a ladder: the level's number, or a tick. */
  mark: string
  mastered: boolean
  text: string
  sign: string
  signTone: string
  aside: boolean
}

const ARROWS = { up: '↗', down: '↘', level: '' }
const looks = new WeakMap<Cell, { show: Shown; look: CellLook }>()

/** The look of a cell; cells are replaced when the wall changes, so that it is kept with them. */
export function lookOf(cell: Cell, scale: ScaleOut, show: Shown): CellLook {
  const kept = looks.get(cell)
  if (kept?.show === show) return kept.look
  const look = made(cell, scale, show)
  looks.set(cell, { show, look })
  return look
}

function made(cell: Cell, scale: ScaleOut, show: Shown): CellLook {
  const there = cell.expected && cell.value !== null
  const mastered = cell.state === 'mastered'
  const many = scale.levels.length > 4
  const sign = signOf(cell)
  return {
    words: wordsOf(cell, scale, show),
    title: titleOf(cell),
    tone: toneOf(cell),
    ladder: there && show !== 'value' && !many ? rungs(cell, scale) : null,
    mark: there ? markOf(cell, many && show !== 'value', mastered && show === 'value') : '',
    mastered,
    text: textOf(cell, scale, show),
    sign: !there || (show === 'direction' && !sign.tone) ? '' : sign.text,
    signTone: sign.tone,
    aside: cell.aside > 0 && cell.expected,
  }
}

function rungs(cell: Cell, scale: ScaleOut): string {
  return ladderRungs({
    level: cell.level,
    levels: scale.levels.length,
    masteryLevel: scale.mastery_level,
    size: 15,
    uncertain: cell.state === 'needs-evidence',
  })
}

function markOf(cell: Cell, number: boolean, tick: boolean): string {
  if (tick) return '✓'
  if (!number) return ''
  return `${(cell.level ?? 0) + 1}${cell.state === 'mastered' ? '✓' : ''}`
}

function textOf(cell: Cell, scale: ScaleOut, show: Shown): string {
  if (!cell.expected) return 'n.e.'
  if (cell.value === null) return '–'
  if (show === 'pieces') return String(cell.pieces)
  if (show === 'direction') return { up: '↗', down: '↘', level: '→' }[cell.direction]
  return tight(cell.value, scale)
}

/** The one sign beside the value. */
function signOf(cell: Cell): { text: string; tone: string } {
  if (cell.judged?.evidence_changed) return { text: '!', tone: 'clay' }
  if (cell.judged) return { text: '●', tone: 'plum' }
  if (cell.slipped) return { text: '▾', tone: 'clay' }
  return { text: ARROWS[cell.direction], tone: '' }
}

function toneOf(cell: Cell): string {
  if (!cell.expected) return 'lifted'
  const judged = cell.judged ? 'judged' : ''
  if (cell.value === null) return `none ${judged}`
  return cell.state === 'needs-evidence' ? `few ${judged}` : judged
}

function titleOf({ expected, judged }: Cell): string | undefined {
  if (!expected) return 'Not expected of this student'
  if (!judged) return undefined
  const changed = judged.evidence_changed ? '. The evidence changed since' : ''
  return `Judged; calculated: ${judged.calculated ?? 'no evidence'}${changed}`
}

function wordsOf(cell: Cell, scale: ScaleOut, show: Shown): string {
  if (!cell.expected) return 'not expected'
  const aside = cell.aside ? [`${several(cell.aside, 'piece')} set aside`] : []
  if (cell.state === 'no-evidence') return ['no evidence', ...aside].join(', ')
  const parts = [cell.value, ladderWords(cell, scale)]
  if (show === 'pieces') parts.push(several(cell.pieces, 'piece'))
  if (cell.direction !== 'level') parts.push(cell.direction)
  if (cell.slipped) parts.push('slipped')
  if (cell.judged) {
    parts.push(`judged by the teacher, calculated ${cell.judged.calculated ?? 'nothing'}`)
    if (cell.judged.evidence_changed) parts.push('the evidence changed since')
  }
  return [...parts, ...aside].join(', ')
}
