import { passageId } from './paint'
import type { Numbered, PassageContext } from './passages'

const LONGEST = 8_000
let newest = 0

/**
 * Bring the place of a passage into sight: its part is opened, and where that is still being
 * loaded or drawn, it is gone to once it is there. Gives where it is, or nothing where it is not.
 */
export async function showPlace(
  context: Pick<PassageContext, 'openPart'>,
  one: Pick<Numbered, 'key' | 'part_id' | 'place'>,
): Promise<HTMLElement | null> {
  const mine = ++newest
  context.openPart.value = { id: one.part_id }
  const page = one.place.pieces[0]?.page ?? one.place.shape?.page
  const until = performance.now() + LONGEST
  let turned = false
  while (mine === newest && performance.now() < until) {
    // The part that was open before is gone by then.
    await new Promise((done) => setTimeout(done, 30))
    const there = document.getElementById(passageId(one.key))
    if (there) {
      there.scrollIntoView({ block: 'center', inline: 'nearest' })
      return there
    }
    // A page is drawn once it is in sight, and with it what stands on it.
    const sheet: Element | null = turned ? null : document.querySelector(`[data-page="${page}"]`)
    sheet?.scrollIntoView({ block: 'start' })
    turned ||= sheet !== null
  }
  return null
}
