import type { ScaleOut } from '@/api/schema'
import { typedNumber } from '@/design/format'

/** The level that a decimal text stands on, for drawing a ladder beside it while it is typed. */
export function levelOf(text: string, scale: ScaleOut): number | null {
  const value = typedNumber(text)
  if (Number.isNaN(value)) return null
  const at = scale.levels.findLastIndex((level) => Number(level.cut) <= value)
  return Math.max(0, at)
}
