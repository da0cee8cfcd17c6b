<script setup lang="ts">
import { computed, onScopeDispose, ref, useTemplateRef, watch } from 'vue'
import { passageId, remarkId } from './paint'
import { labelOf, usePassageContext, type Layer, type Numbered, type Shape } from './passages'
import { hasExtent, headOf, moved, shapeBetween, sized } from './shapes'

/** Boxes and arrows on a page or a picture, in its units; at the desk they are drawn and moved. */
const props = defineProps<{ partId: number; page: number; width: number; height: number }>()
const context = usePassageContext()
const desk = context?.desk
const svg = useTemplateRef('svg')
const drawing = computed(() => desk?.drawing.value ?? null)
/** What is being drawn or moved, before it is told. */
const changing = ref<{ key: string; shape: Shape } | null>(null)
const shapes = computed(() =>
  (context?.passages.value ?? []).flatMap((one) => {
    const { shape } = one.place
    if (one.part_id !== props.partId || shape?.page !== props.page) return []
    const now = changing.value?.key === one.key ? changing.value.shape : shape
    return [{ one, shape: now, lit: litOf(one) }]
  }),
)
const unit = computed(() => props.width / 600)
const litOf = ({ key }: Numbered) => {
  const lit = context!.lit.value
  return lit === null ? '' : lit.has(key) ? 'lit' : 'dim'
}
const boxOf = ({ x1, y1, x2, y2 }: Shape) => ({
  x: Math.min(x1, x2),
  y: Math.min(y1, y2),
  width: Math.abs(x2 - x1),
  height: Math.abs(y2 - y1),
})

watch(
  [svg, () => props.width, () => props.height],
  ([element], _, clean) => {
    if (!element || !desk) return
    const layer: Layer = { element, ...props }
    desk.layers.add(layer)
    clean(() => desk.layers.delete(layer))
  },
  { flush: 'post', immediate: true },
)

function pointAt(event: PointerEvent): [number, number] {
  // The picture may be turned: its own matrix knows how.
  const matrix = svg.value!.getScreenCTM()!.inverse()
  const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix)
  return [x, y]
}

let end = () => {}
onScopeDispose(() => end())
function follow(event: PointerEvent, to: (event: PointerEvent) => void, done: () => void) {
  event.preventDefault()
  const move = (next: PointerEvent) => to(next)
  const stop = (last: Event) => {
    end()
    if (last.type === 'pointerup') done()
    changing.value = null
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', stop)
  window.addEventListener('pointercancel', stop)
  end = () => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', stop)
    window.removeEventListener('pointercancel', stop)
  }
}

const NEW = 'new'
function draw(event: PointerEvent) {
  const kind = drawing.value
  if (!kind || event.button !== 0) return
  const from = pointAt(event)
  const to = (next: PointerEvent) => {
    changing.value = { key: NEW, shape: shapeBetween(kind, props, from, pointAt(next)) }
  }
  follow(event, to, () => {
    const shape = changing.value?.shape
    if (shape && hasExtent(shape)) desk?.drawn(props.partId, shape)
  })
}

function drag(event: PointerEvent, one: Numbered, shape: Shape, change: typeof moved) {
  if (drawing.value || desk?.openKey.value !== one.key || event.button !== 0) return
  const [x, y] = pointAt(event)
  const to = (next: PointerEvent) => {
    const [nextX, nextY] = pointAt(next)
    changing.value = { key: one.key, shape: change(shape, nextX - x, nextY - y) }
  }
  follow(event, to, () => changing.value && desk?.moved(one.key, changing.value.shape))
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function pressKey(event: KeyboardEvent, one: Numbered, shape: Shape) {
  const step = STEPS[event.key]
  if (event.key === 'Enter' || event.key === ' ') context?.pressed(one.key)
  else if (!step || !desk || event.ctrlKey || event.metaKey) return
  else {
    const by = (event.altKey ? 1 : 8) * unit.value
    const change = event.shiftKey ? sized : moved
    desk.moved(one.key, change(shape, step[0] * by, step[1] * by))
  }
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <svg
    v-if="context && (desk || shapes.length)"
    ref="svg"
    class="layer"
    :class="{ drawing }"
    :viewBox="`0 0 ${width} ${height}`"
    preserveAspectRatio="none"
    @pointerdown="draw"
  >
    <component
      :is="desk ? 'g' : 'a'"
      v-for="{ one, shape, lit } in shapes"
      :id="passageId(one.key)"
      :key="one.key"
      class="shape"
      :class="lit"
      :href="desk ? undefined : `#${remarkId(one.key)}`"
      :role="desk ? 'button' : undefined"
      :tabindex="desk ? 0 : undefined"
      :data-shape="one.key"
      :aria-label="labelOf(one)"
      @click.prevent="context.pressed(one.key)"
      @keydown="pressKey($event, one, shape)"
    >
      <rect
        v-if="shape.kind === 'box'"
        class="line"
        v-bind="boxOf(shape)"
        @pointerdown="drag($event, one, shape, moved)"
      />
      <template v-else>
        <line
          class="line"
          :x1="shape.x1"
          :y1="shape.y1"
          :x2="shape.x2"
          :y2="shape.y2"
          @pointerdown="drag($event, one, shape, moved)"
        />
        <polygon class="head" :points="headOf(shape)" />
      </template>
      <g :transform="`translate(${shape.x1} ${shape.y1}) scale(${unit})`">
        <circle r="9" />
        <text y="4">{{ one.number }}</text>
      </g>
      <circle
        v-if="desk?.openKey.value === one.key"
        class="handle"
        :cx="shape.x2"
        :cy="shape.y2"
        :r="6 * unit"
        @pointerdown.stop="drag($event, one, shape, sized)"
      />
    </component>
    <template v-if="changing?.key === NEW">
      <rect v-if="changing.shape.kind === 'box'" class="line" v-bind="boxOf(changing.shape)" />
      <line
        v-else
        class="line"
        :x1="changing.shape.x1"
        :y1="changing.shape.y1"
        :x2="changing.shape.x2"
        :y2="changing.shape.y2"
      />
    </template>
  </svg>
</template>

<style scoped>
.layer {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  overflow: visible;
}
.layer.drawing {
  pointer-events: all;
  cursor: crosshair;
  touch-action: none;
}
/* It lies on pages that are white in the dark, too. */
.line {
  fill: none;
  stroke: #1d2a3a;
  stroke-width: 2px;
  vector-effect: non-scaling-stroke;
  pointer-events: stroke;
}
.shape {
  cursor: pointer;
}
.head,
.shape circle {
  fill: #1d2a3a;
  pointer-events: all;
}
.shape circle {
  stroke: #fff;
  stroke-width: 1px;
  vector-effect: non-scaling-stroke;
}
.shape text {
  fill: #fff;
  font: 700 11px var(--body);
  text-anchor: middle;
}
.shape.lit .line {
  stroke-width: 3.5px;
}
.shape.dim {
  opacity: 0.45;
}
.shape .handle {
  fill: #fff;
  stroke: #1d2a3a;
  stroke-width: 2px;
  cursor: nwse-resize;
}
.shape:focus-visible {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
</style>
