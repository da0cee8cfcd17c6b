/** Drawing ladders as layers of CSS gradients: one element whatever the number of rungs. */

export interface Rungs {
  level: number | null
  levels: number
  masteryLevel: number
  size: number
  uncertain?: boolean
}

/** The background of a ladder: from the ground up, reached rungs thick, the mastery rung longest. */
export function ladderRungs({ level, levels, masteryLevel, size, uncertain }: Rungs): string {
  const gap = size / levels
  const thick = Math.max(2, Math.round(gap * 0.62))
  const color = level !== null && level >= masteryLevel ? 'var(--jade)' : 'var(--slate)'
  const layers: string[] = []
  for (let rung = 0; rung < levels; rung++) {
    const reached = level !== null && rung <= level
    const long = rung === masteryLevel
    const width = long ? size : Math.round(size * 0.66)
    const left = Math.round((size - width) / 2)
    const height = reached ? thick : 1
    const top = Math.round(size - (rung + 0.5) * gap - height / 2)
    layers.push(
      `${paint(reached, color, uncertain)} ${left}px ${top}px / ${width}px ${height}px no-repeat`,
    )
  }
  return layers.join(', ')
}

function paint(reached: boolean, color: string, uncertain = false): string {
  if (!reached) return 'linear-gradient(var(--edge), var(--edge))'
  if (!uncertain) return `linear-gradient(${color}, ${color})`
  return 'repeating-linear-gradient(90deg, var(--slate) 0 3px, transparent 3px 5px)'
}

/** The background of a class ladder: each rung as long as the share of students who stand on it. */
export function classRungs(
  atLevel: number[],
  masteryLevel: number,
  width: number,
  height: number,
): string {
  const most = Math.max(...atLevel, 1)
  const gap = height / atLevel.length
  return atLevel
    .map((count, rung) => {
      const color = rung >= masteryLevel ? 'var(--jade)' : 'var(--slate)'
      const length = Math.max(1, Math.round((count / most) * width))
      const top = Math.round(height - (rung + 1) * gap + 1)
      return `linear-gradient(${color}, ${color}) 0 ${top}px / ${length}px ${Math.max(2, Math.round(gap) - 2)}px no-repeat`
    })
    .join(', ')
}
