import './passages.css'
import { onScopeDispose, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { light, paint, renumber, wipe } from './paint'
import { labelOf, usePassageContext, type PassageContext, type Surface } from './passages'
import { find, fromSpan, NUMBER_CLASS, wordsOf } from './words'

/**
 * Show the passages of a part in the words of an element. `ready` changes when the words do; `page`
 * says of a PDF which page it is.
 */
export function useSurface(
  partId: () => number,
  root: MaybeRefOrGetter<HTMLElement | null>,
  ready: () => unknown,
) {
  const context = usePassageContext()
  if (!context) return
  let surface: Surface | null = null
  watch(
    [() => toValue(root), partId, ready, context.passages],
    () => {
      const element = toValue(root)
      if (surface?.root !== element || surface?.partId !== partId()) {
        forget()
        if (element) context.desk?.surfaces.add((surface = { root: element, partId: partId() }))
      }
      if (element) show({ root: element, partId: partId() })
    },
    { immediate: true, flush: 'post' },
  )
  watch([context.lit, () => context.desk?.openKey.value ?? null], ([lit, open]) => {
    const element = toValue(root)
    if (element) light(element, lit, open)
  })
  function forget() {
    if (surface) context!.desk?.surfaces.delete(surface)
    surface = null
  }
  onScopeDispose(forget)

  function show(on: Surface) {
    showPassages(on, context!)
  }
}

/** A number leads to its remark, and so do the words, unless some are being selected. */
function press(event: MouseEvent, context: PassageContext) {
  const target = event.target as Element
  const key =
    target.closest<HTMLElement>('[data-passage]')?.dataset.passage ??
    (window.getSelection()?.isCollapsed
      ? target.closest<HTMLElement>('[data-passages]')?.dataset.passages?.split(' ').at(-1)
      : undefined)
  if (!key) return
  event.preventDefault()
  context.pressed(key)
}

/** What was painted in an element last: where each passage lies. */
const paintedIn = new WeakMap<HTMLElement, Map<string, string>>()

/** Put the passages of a part, or of a page of it, into the words of an element. */
export function showPassages({ root, partId, page }: Surface, context: PassageContext): void {
  root.onclick = (event) => press(event, context)
  const here = context.passages.value.filter((one) => one.part_id === partId && one.place.quote)
  let words = wordsOf(root)
  const found = here.flatMap((one) => {
    const { quote, span, pieces } = one.place
    const piece = pieces.find((each) => each.page === page?.number)
    if (page && !piece) return []
    // Of several pages each holds only a part of the words that are quoted.
    const several = pieces.length > 1
    const at = several
      ? fromSpan(words.text, piece!.span)
      : find(words.text, quote!, (span ?? piece?.span)!)
    if (at && at.from < at.to) context.lost.delete(one.key)
    else context.lost.add(one.key)
    return at ? [{ ...at, key: one.key, number: one.number, label: labelOf(one) }] : []
  })
  const lies = new Map(found.map((one) => [one.key, `${one.from}-${one.to}`]))
  const before = paintedIn.get(root) ?? new Map<string, string>()
  const there = root.querySelectorAll(`.${NUMBER_CLASS}`).length === before.size
  // Where all that was painted still stands, only what is new is added.
  const kept = there && [...before].every(([key, at]) => lies.get(key) === at)
  if (!kept) {
    wipe(root)
    words = wordsOf(root)
  }
  const added = kept ? found.filter((one) => !before.has(one.key)) : found
  if (added.length) paint(words, added, context.linked)
  if (kept) renumber(root, found)
  paintedIn.set(root, lies)
  light(root, context.lit.value, context.desk?.openKey.value ?? null)
}
