import { deviceTime } from '@/api/clock'
import type { CriterionKind, CriterionOut, GridCriterionOut } from '@/api/schema'
import { typedNumber } from '@/design/format'

/** A cell as edited: by hand with what was typed ("" says nothing), or the default. */
export interface DraftCell {
  value: string
  by_hand: boolean
}

export interface DraftLevel {
  key: string
  name: string
  points: string
  descriptor: string
}

export interface DraftAlignment {
  outcome_id: number
  weight: number
  cells: DraftCell[]
}

export interface DraftCriterion {
  key: string
  title: string
  kind: CriterionKind
  bonus: boolean
  half_way: boolean
  remarks: boolean
  any_order: boolean
  weight: string | null
  levels: DraftLevel[]
  alignments: DraftAlignment[]
}

/** A new key for a criterion or level, the same for it in every revision. */
export function newKey(): string {
  return crypto.randomUUID?.() ?? `${deviceTime()}-${Math.random().toString(36).slice(2)}`
}

export function newCriterion(kind: CriterionKind, levels: DraftLevel[], weighted: boolean) {
  return {
    key: newKey(),
    title: '',
    kind,
    bonus: false,
    half_way: false,
    remarks: true,
    any_order: false,
    weight: weighted ? '' : null,
    levels,
    alignments: [],
  } satisfies DraftCriterion
}

export const yesAndNo = (): DraftLevel[] => [
  { key: newKey(), name: 'No', points: '0', descriptor: '' },
  { key: newKey(), name: 'Yes', points: '1', descriptor: '' },
]

const byDefault = (): DraftCell => ({ value: '', by_hand: false })

export function align(criterion: DraftCriterion, outcomeId: number) {
  if (criterion.alignments.some((tie) => tie.outcome_id === outcomeId)) return
  const cells = criterion.levels.map(byDefault)
  criterion.alignments.push({ outcome_id: outcomeId, weight: 1, cells })
}

export function unalign(criterion: DraftCriterion, outcomeId: number) {
  criterion.alignments = criterion.alignments.filter((tie) => tie.outcome_id !== outcomeId)
}

/** Put a level in at a place; its points lie half-way, or one above the top. */
export function addLevel(criterion: DraftCriterion, place: number) {
  const points = (at: number) => typedNumber(criterion.levels[at]?.points ?? '')
  const below = points(place - 1)
  const above = points(place)
  const between = Number.isNaN(above) ? (below || 0) + 1 : ((below || 0) + above) / 2
  criterion.levels.splice(place, 0, {
    key: newKey(),
    name: '',
    points: String(Math.round(between * 100) / 100),
    descriptor: '',
  })
  for (const tie of criterion.alignments) tie.cells.splice(place, 0, byDefault())
}

export function removeLevel(criterion: DraftCriterion, place: number) {
  criterion.levels.splice(place, 1)
  for (const tie of criterion.alignments) tie.cells.splice(place, 1)
}

export function moveLevel(criterion: DraftCriterion, place: number, by: number) {
  const to = place + by
  if (to < 0 || to >= criterion.levels.length) return
  for (const list of [criterion.levels, ...criterion.alignments.map((tie) => tie.cells)]) {
    const [moved] = list.splice(place, 1)
    list.splice(to, 0, moved as never)
  }
}

/** Whether a higher level gives fewer points than the one below it. */
export function pointsFall({ levels }: DraftCriterion): boolean {
  const points = levels.map((level) => typedNumber(level.points))
  return points.some((value, place) => place > 0 && value < points[place - 1]!)
}

/** A copy with keys of its own. */
export function copyOf(criterion: DraftCriterion): DraftCriterion {
  const copy = JSON.parse(JSON.stringify(criterion)) as DraftCriterion
  copy.key = newKey()
  for (const level of copy.levels) level.key = newKey()
  return copy
}

export function toDraft(criterion: CriterionOut): DraftCriterion {
  const { key, title, kind, bonus, half_way, remarks, any_order, weight } = criterion
  return {
    ...{ key, title, kind, bonus, half_way, remarks, any_order, weight },
    levels: criterion.levels.map(({ key, name, points, descriptor }) => ({
      key,
      name,
      points,
      descriptor,
    })),
    alignments: criterion.alignments.map(({ outcome_id, weight, cells }) => ({
      outcome_id,
      weight,
      cells: cells.map((cell) => ({ value: cell.value ?? '', by_hand: cell.by_hand })),
    })),
  }
}

export function toBody(criterion: DraftCriterion) {
  return {
    ...criterion,
    weight: criterion.weight?.trim() ? criterion.weight : null,
    alignments: criterion.alignments.map((tie) => ({
      ...tie,
      cells: tie.cells.map((cell) => (cell.by_hand ? { value: cell.value.trim() || null } : null)),
    })),
  }
}

export function fromGrid(grid: GridCriterionOut[]): DraftCriterion[] {
  return grid.map((row) => ({
    ...newCriterion(
      'levels',
      row.levels.map((level) => ({ key: newKey(), ...level })),
      false,
    ),
    title: row.title,
    weight: row.weight,
  }))
}

/** Whether all criteria with as many levels call them the same. */
export function haveSameNames(criteria: DraftCriterion[]): boolean {
  const names = new Map<number, string>()
  const found = criteria.filter((one) => one.kind === 'levels')
  return found.every((one) => {
    const own = JSON.stringify(one.levels.map((level) => level.name))
    const known = names.get(one.levels.length) ?? own
    names.set(one.levels.length, known)
    return known === own
  })
}

/** Call a level of every criterion with as many levels the same. */
export function renameEverywhere(criteria: DraftCriterion[], like: DraftCriterion, place: number) {
  for (const one of criteria) {
    const same = one.kind === 'levels' && one.levels.length === like.levels.length
    if (same && one.levels[place] && like.levels[place]) {
      one.levels[place].name = like.levels[place].name
    }
  }
}
