<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/**
 * Between two panels, of which the right one is so many pixels wide: drawn by hand, or moved by the
 * arrow keys; pressed twice it is as at first.
 */
const props = defineProps<{ label: string; least: number; most: number; first: number }>()
const width = defineModel<number>({ required: true })
const drawn = ref<{ from: number; width: number } | null>(null)
const within = (wanted: number) => Math.round(Math.max(props.least, Math.min(props.most, wanted)))

useEventListener('pointermove', ({ clientX }) => {
  if (drawn.value) width.value = within(drawn.value.width + drawn.value.from - clientX)
})
useEventListener(['pointerup', 'pointercancel'], () => (drawn.value = null))

function move(event: KeyboardEvent) {
  const to = {
    ArrowLeft: width.value + 16,
    ArrowRight: width.value - 16,
    Home: props.least,
    End: props.most,
  }[event.key]
  if (to === undefined) return
  width.value = within(to)
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    class="divider"
    :class="{ drawn }"
    role="separator"
    aria-orientation="vertical"
    tabindex="0"
    :aria-label="label"
    :aria-valuenow="within(width)"
    :aria-valuemin="least"
    :aria-valuemax="most"
    @pointerdown.prevent="drawn = { from: $event.clientX, width: within(width) }"
    @dblclick="width = first"
    @keydown="move"
  />
</template>

<style scoped>
.divider {
  cursor: col-resize;
  touch-action: none;
  background: linear-gradient(var(--line), var(--line)) center / 1px 100% no-repeat;
}
.divider:hover,
.divider.drawn {
  background: linear-gradient(var(--edge), var(--edge)) center / 3px 100% no-repeat;
}
</style>
