/** Remarks on passages of the work: what they are, and what shows them knows. */
import { inject, type InjectionKey, type Ref } from 'vue'
import type {
  PassageOut,
  PlaceModelOutput,
  QuoteModel,
  ShapeModelOutput,
  SpanModelOutput,
} from '@/api/schema'

export type Place = PlaceModelOutput
export type Quote = QuoteModel
export type Span = SpanModelOutput
export type Shape = ShapeModelOutput
/** A passage as it is kept; its number follows from where it stands. */
export type Passage = Omit<PassageOut, 'number'>
export type Numbered = PassageOut

/** A piece of the page whose words passages are in: a part of the work, or a page of one. */
export interface Surface {
  root: HTMLElement
  partId: number
  /** Of a PDF: which page, from 1, and its size in points. */
  page?: { number: number; width: number; height: number }
}

/** A page or a picture that can be drawn on, so many units large. */
export interface Layer {
  element: Element
  partId: number
  page: number
  width: number
  height: number
}

/** What the desk, or a student's result, gives to what shows the work. */
export interface PassageContext {
  /** The passages of the mark that is shown, in the order of their numbers. */
  passages: Readonly<Ref<readonly Numbered[]>>
  /** Those that are lit up; null: all are alike. */
  lit: Readonly<Ref<Set<string> | null>>
  /** Numbers lead to the remarks as links; at the desk they are pressed. */
  linked: boolean
  /** Those whose words are not there any more; reactive. */
  lost: Set<string>
  /** The part of the work that is to be opened, since something on it is to be shown. */
  openPart: Ref<{ id: number } | null>
  /** A passage, or its number, was pressed. */
  pressed: (key: string) => void
  /** At the desk: what can be selected and drawn on. */
  desk?: {
    surfaces: Set<Surface>
    layers: Set<Layer>
    /** What is being drawn, if anything. */
    drawing: Ref<Shape['kind'] | null>
    /** The passage that is open, whose shape can be moved. */
    openKey: Readonly<Ref<string | null>>
    drawn: (partId: number, shape: Shape) => void
    moved: (key: string, shape: Shape) => void
  }
}

export const PASSAGES: InjectionKey<PassageContext | null> = Symbol('passages')
export const usePassageContext = () => inject(PASSAGES, null)

/** What is said of a passage's number where it stands. */
export const labelOf = (one: Numbered) => `Remark ${one.number}: ${one.text}`

/** Number passages (docs/calculations.md, “Passages”): part by part, as they are read. */
export function numbered(passages: readonly Passage[], partIds: readonly number[]): Numbered[] {
  const at = (one: Passage) => {
    const place = partIds.indexOf(one.part_id)
    return place < 0 ? partIds.length : place
  }
  return [...passages]
    .sort((one, other) => {
      const [a, b] = [orderOf(one.place), orderOf(other.place)]
      const by = [at(one) - at(other), a[0] - b[0], a[1] - b[1], a[2] - b[2]]
      return by.find((step) => step) ?? (one.key < other.key ? -1 : 1)
    })
    .map((one, place) => ({ ...one, number: place + 1 }))
}

function orderOf({ shape, pieces, span }: Place): [number, number, number] {
  if (shape) return [shape.page, Math.min(shape.y1, shape.y2), Math.min(shape.x1, shape.x2)]
  const first = pieces[0]
  if (first) {
    const top = first.rects[0]
    return [first.page, top?.y ?? 0, top?.x ?? first.span.start]
  }
  return [1, span?.start ?? 0, span?.end ?? 0]
}

/** What a passage is, in a few words. */
export function briefOf({ quote, shape }: Place, longest = 60): string {
  if (shape) return shape.kind === 'box' ? 'a box' : 'an arrow'
  const exact = quote?.exact.replace(/\s+/g, ' ') ?? ''
  return `“${exact.length > longest ? `${exact.slice(0, longest)}…` : exact}”`
}
