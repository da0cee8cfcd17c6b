import { useDebounceFn, useEventListener } from '@vueuse/core'
import {
  computed,
  nextTick,
  provide,
  reactive,
  ref,
  shallowReactive,
  shallowRef,
  watch,
  type Ref,
} from 'vue'
import { say, warn } from '@/design/telling/messages'
import { showPlace } from '@/shared/passages/showPlace'
import {
  briefOf,
  numbered,
  PASSAGES,
  type Layer,
  type Numbered,
  type Passage,
  type PassageContext,
  type Shape,
  type Surface,
} from '@/shared/passages/passages'
import { shapeAtCentre } from '@/shared/passages/shapes'
import type { Save } from '@/shared/saving/saves'
import { readWithCaret } from './caret'
import { inSight, placeOf, selectedRange, tooLong } from './selecting'

type Said = NonNullable<Save['passage']>

/** What of the desk passages need: whose turn it is, what stands, and saving. */
export interface PassageDesk {
  studentId: Readonly<Ref<number>>
  /** Which attempt of whom is here; what is open closes when it is another. */
  turn: Readonly<Ref<string>>
  passages: Readonly<Ref<readonly Passage[]>>
  partIds: Readonly<Ref<number[]>>
  criterionId: Readonly<Ref<number | null>>
  remarkOn: (studentId: number, passage: Said) => void
  /** Show the criterion (null: the whole) that a passage is tied to. */
  turnTo: (criterionId: number | null) => void
}

/** Remarks on passages at the desk: making, opening, changing, deleting and undoing them. */
export function usePassages(it: PassageDesk) {
  const surfaces = shallowReactive(new Set<Surface>())
  const layers = shallowReactive(new Set<Layer>())
  const drawing = ref<Shape['kind'] | null>(null)
  /** One that is being made: it has no words yet. */
  const draft = shallowRef<Passage | null>(null)
  const openKey = ref<string | null>(null)
  /** Where a shape is while it is being moved, before that is saved. */
  const moving = shallowRef<{ key: string; shape: Shape } | null>(null)
  const lost = reactive(new Set<string>())

  const all = computed<Numbered[]>(() => {
    const there = it.passages.value.map((one) => {
      const now = moving.value?.key === one.key ? moving.value.shape : null
      return now ? { ...one, place: { ...one.place, shape: now } } : one
    })
    const making = draft.value && !there.some((one) => one.key === draft.value!.key)
    return numbered(making ? [...there, draft.value!] : there, it.partIds.value)
  })
  /** The passages of the open criterion are lit up. */
  const lit = computed(() => {
    const of = all.value.filter((one) => one.criterion_id === it.criterionId.value)
    return of.length ? new Set(of.map((one) => one.key)) : null
  })

  watch(it.turn, () => {
    keepMoved()
    draft.value = null
    openKey.value = null
    drawing.value = null
    undone.length = 0
  })

  const find = (key: string) => all.value.find((one) => one.key === key)
  const said = ({ key, part_id, criterion_id, text, place }: Passage, deleted = false): Said => ({
    key,
    part_id,
    criterion_id,
    text,
    place,
    deleted,
  })

  /** What was there before each step of the student whose turn it is, for undoing. */
  const undone: { words: string; back: Said }[] = []
  function tell(words: string, passage: Said, back: Said) {
    undone.push({ words, back })
    it.remarkOn(it.studentId.value, passage)
  }

  /** Undo the last step; false where there is none. */
  function undo(): boolean {
    keepMoved()
    const last = undone.pop()
    if (!last) return false
    it.remarkOn(it.studentId.value, last.back)
    openKey.value = null
    say(`Undone: ${last.words}`)
    return true
  }

  function begin(partId: number, place: Passage['place']) {
    const criterion_id = it.criterionId.value
    draft.value = { key: newKey(), part_id: partId, criterion_id, text: '', place, version: 0 }
    openKey.value = draft.value.key
    drawing.value = null
  }

  /** A remark on what is selected; false where nothing is. */
  function remarkOnSelected(): boolean {
    const range = selectedRange(surfaces)
    const found = range && placeOf(range, surfaces)
    if (!found) return false
    const long = tooLong(found)
    if (long) {
      warn(long)
      return true
    }
    begin(found.partId, found.place)
    window.getSelection()?.removeAllRanges()
    focusRemark()
    return true
  }

  function focusRemark() {
    void nextTick(() =>
      document
        .querySelector<HTMLElement>('[data-passage-open] textarea')
        ?.focus({ preventScroll: false }),
    )
  }

  /** Where the caret was in each part, to go on from there. */
  const carets = new Map<number, number>()
  /** Put a caret into the work in sight; false where there are no words. */
  function caret(): boolean {
    const found = inSight(surfaces)
    if (!found) return false
    const { root, partId } = found
    const from = found.page ? 0 : (carets.get(partId) ?? 0)
    readWithCaret(root, from, (at) => carets.set(partId, at))
    return true
  }

  /** Draw on the page in sight: with the pointer, or, by keys, from its middle. */
  function draw(kind: Shape['kind'], byKeys: boolean): boolean {
    const layer = inSight(layers)
    if (!layer) return false
    if (!byKeys) {
      drawing.value = drawing.value === kind ? null : kind
      return true
    }
    begin(layer.partId, placeOfShape(shapeAtCentre(kind, layer)))
    const key = openKey.value!
    void nextTick(() => focusShape(key))
    return true
  }
  const focusShape = (key: string) =>
    document.querySelector<SVGElement>(`[data-shape="${key}"]`)?.focus()

  function drawn(partId: number, shape: Shape) {
    begin(partId, placeOfShape(shape))
    focusRemark()
  }

  function moved(key: string, shape: Shape) {
    if (draft.value?.key === key) {
      draft.value = { ...draft.value, place: placeOfShape(shape) }
      return
    }
    if (moving.value && moving.value.key !== key) keepMoved()
    moving.value = { key, shape }
    void keepSoon()
  }
  const keepSoon = useDebounceFn(keepMoved, 600)
  function keepMoved() {
    const now = moving.value
    moving.value = null
    const there = now && it.passages.value.find((one) => one.key === now.key)
    if (!there) return
    const place = placeOfShape(now.shape)
    tell('moved', said({ ...there, place }), said(there))
  }
  useEventListener(window, 'pagehide', keepMoved)

  function write(key: string, text: string) {
    const words = text.trim()
    const there = it.passages.value.find((one) => one.key === key)
    if (!there && draft.value?.key === key) {
      if (!words) return
      const made = { ...draft.value, text: words }
      draft.value = null
      tell('a new remark', said(made), said(made, true))
    } else if (there && !words) remove(key)
    else if (there && there.text !== words) {
      tell('a remark changed', said({ ...there, text: words }), said(there))
    }
  }

  /** Tie a passage to another criterion, or (null) to the whole. */
  function tie(key: string, criterionId: number | null) {
    if (draft.value?.key === key) draft.value = { ...draft.value, criterion_id: criterionId }
    else {
      const there = it.passages.value.find((one) => one.key === key)
      if (!there) return
      tell('tied to another criterion', said({ ...there, criterion_id: criterionId }), said(there))
    }
    it.turnTo(criterionId)
  }

  function remove(key: string) {
    if (draft.value?.key === key) return void leave()
    const there = it.passages.value.find((one) => one.key === key)
    if (!there) return
    openKey.value = null
    tell(`deleted the remark on ${briefOf(there.place, 30)}`, said(there, true), said(there))
    say(`Deleted the remark on ${briefOf(there.place, 30)}`, {
      work: async () => void undo(),
      undone: 'The remark is there again',
    })
  }

  function open(key: string) {
    const found = find(key)
    if (!found) return
    if (openKey.value === key) return void focusRemark()
    openKey.value = key
    it.turnTo(found.criterion_id)
    focusRemark()
  }

  /** What a passage that was refused would be, and what stands instead. */
  function sides({ passage }: Save) {
    const words = (one: { text: string; deleted?: boolean } | undefined) =>
      one && !one.deleted ? `“${one.text}”` : 'nothing'
    return {
      mine: words(passage),
      there: words(it.passages.value.find((one) => one.key === passage?.key)),
    }
  }

  /** Close what is open; a passage without words goes. */
  function leave() {
    keepMoved()
    draft.value = null
    openKey.value = null
    drawing.value = null
  }

  const openPart: PassageContext['openPart'] = shallowRef(null)

  /** Bring the place of a passage into sight. */
  function show(key: string) {
    const found = find(key)
    if (found) void showPlace({ openPart }, found)
  }

  provide(PASSAGES, {
    passages: all,
    lit,
    linked: false,
    openPart,
    lost,
    pressed: open,
    desk: { surfaces, layers, drawing, openKey, drawn, moved },
  })

  return {
    all,
    lost,
    surfaces,
    layers,
    drawing,
    draft,
    openKey,
    remarkOnSelected,
    focusRemark,
    caret,
    draw,
    write,
    tie,
    remove,
    open,
    leave,
    show,
    openPart,
    undo,
    sides,
  }
}

const placeOfShape = (shape: Shape): Passage['place'] => ({
  quote: null,
  span: null,
  pieces: [],
  shape,
})

/** A key of its own; crypto.randomUUID is not there on plain http. */
function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12))
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}
