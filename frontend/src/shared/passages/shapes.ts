/** Boxes and arrows in units of the page that they are drawn on. */
import type { Shape } from './passages'

type Point = [x: number, y: number]
type Page = { page: number; width: number; height: number }

const within = (number: number, most: number) =>
  Math.round(Math.min(Math.max(number, 0), most) * 100) / 100

/** A shape from one point to another, kept on its page. */
export function shapeBetween(
  kind: Shape['kind'],
  { page, width, height }: Page,
  [x1, y1]: Point,
  [x2, y2]: Point,
): Shape {
  return {
    kind,
    page,
    width,
    height,
    x1: within(x1, width),
    y1: within(y1, height),
    x2: within(x2, width),
    y2: within(y2, height),
  }
}

/** A shape in the middle of a page, to be moved from there by keys. */
export function shapeAtCentre(kind: Shape['kind'], page: Page): Shape {
  const { width, height } = page
  const [x, y] = [width / 2, height / 2]
  const side = Math.min(width, height) / 8
  return shapeBetween(kind, page, [x - side, y - side / 2], [x + side, y + side / 2])
}

/** Move a shape as a whole, as far as the page goes. */
export function moved(shape: Shape, dx: number, dy: number): Shape {
  const { x1, y1, x2, y2, width, height } = shape
  const x = Math.min(Math.max(dx, -Math.min(x1, x2)), width - Math.max(x1, x2))
  const y = Math.min(Math.max(dy, -Math.min(y1, y2)), height - Math.max(y1, y2))
  return shapeBetween(shape.kind, shape, [x1 + x, y1 + y], [x2 + x, y2 + y])
}

/** Move the second point of a shape, which makes it larger or smaller. */
export function sized(shape: Shape, dx: number, dy: number): Shape {
  const { x1, y1, x2, y2 } = shape
  const made = shapeBetween(shape.kind, shape, [x1, y1], [x2 + dx, y2 + dy])
  return hasExtent(made) ? made : shape
}

/** Whether something was drawn, and not only pressed. */
export function hasExtent({ kind, x1, y1, x2, y2, width }: Shape): boolean {
  const least = width / 200
  const [across, down] = [Math.abs(x2 - x1), Math.abs(y2 - y1)]
  return kind === 'box' ? across >= least && down >= least : Math.hypot(across, down) >= least
}

/** The head of an arrow, as the points of a polygon. */
export function headOf({ x1, y1, x2, y2, width }: Shape): string {
  const angle = Math.atan2(y2 - y1, x2 - x1)
  const length = Math.min(width / 40, Math.hypot(x2 - x1, y2 - y1))
  const corner = (turn: number): Point => [
    x2 - length * Math.cos(angle + turn),
    y2 - length * Math.sin(angle + turn),
  ]
  return [[x2, y2], corner(0.45), corner(-0.45)].map((one) => one.join(',')).join(' ')
}
