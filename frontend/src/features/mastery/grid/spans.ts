/** Which columns of the wall stand under which strand. */
import type { WallColumn } from '@/features/mastery/wall'

/** A run of columns under one strand. */
export interface StrandSpan {
  strandId: number | null
  from: number
  count: number
  folded: boolean
}

/** The runs of columns under one strand, as far as columns from `first` to `last` are in sight. */
export function spansOf(columns: WallColumn[], first: number, last: number): StrandSpan[] {
  const found: StrandSpan[] = []
  columns.forEach((column, at) => {
    if (column.starts)
      found.push({
        strandId: column.strandId,
        from: at,
        count: 1,
        folded: column.outcome === null,
      })
    else found.at(-1)!.count++
  })
  return found.filter((one) => one.from <= last && one.from + one.count > first)
}
