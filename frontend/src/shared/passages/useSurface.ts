import './passages.css'
import { onScopeDispose, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { light, paint, wipe } from './paint'
import { labelOf, usePassageContext, type PassageContext, type Surface } from './passages'
import { find, fromSpan, wordsOf } from './words'

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
  watch(context.lit, (lit) => {
    const element = toValue(root)
    if (element) light(element, lit)
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

/** Put the passages of a part, or of a page of it, into the words of an element. */
export function showPassages({ root, partId, page }: Surface, context: PassageContext): void {
  wipe(root)
  root.onclick = (event) => press(event, context)
  const here = context.passages.value.filter((one) => one.part_id === partId && one.place.quote)
  if (!here.length) return
  const words = wordsOf(root)
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
  paint(words, found, context.linked)
  light(root, context.lit.value)
}
