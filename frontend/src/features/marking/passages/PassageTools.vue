<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { selectedRange } from './selecting'
import type { usePassages } from './usePassages'

/** What can be done with passages in the work that is shown: a remark on what is selected; drawing. */
const props = defineProps<{ it: ReturnType<typeof usePassages> }>()
const selected = ref<{ top: string; left: string } | null>(null)
const canDraw = computed(() => props.it.layers.size > 0)

useEventListener(document, ['selectionchange', 'scroll'], place, { capture: true })
function place() {
  const range = selectedRange(props.it.surfaces)
  const box = range && [...range.getClientRects()].at(-1)
  if (!box || !range.toString().trim()) return void (selected.value = null)
  const top = Math.min(Math.max(box.bottom + 6, 60), window.innerHeight - 48)
  const left = Math.min(Math.max(box.right - 30, 8), window.innerWidth - 140)
  selected.value = { top: `${top}px`, left: `${left}px` }
}
/** By the pointer one draws; by keys a shape begins in the middle of the page. */
const draw = (kind: 'box' | 'arrow', event: MouseEvent) => props.it.draw(kind, event.detail === 0)
</script>

<template>
  <NButton v-if="it.surfaces.size" size="small" quaternary @click="it.caret()"
    >Words <kbd>T</kbd></NButton
  >
  <template v-if="canDraw">
    <NButton
      size="small"
      quaternary
      :aria-pressed="it.drawing.value === 'box'"
      @click="draw('box', $event)"
      >Box <kbd>X</kbd></NButton
    >
    <NButton
      size="small"
      quaternary
      :aria-pressed="it.drawing.value === 'arrow'"
      @click="draw('arrow', $event)"
      >Arrow <kbd>V</kbd></NButton
    >
  </template>
  <Teleport to="body">
    <!-- Pressed with the pointer it takes neither focus nor what is selected. -->
    <div
      v-if="selected"
      class="on-selection"
      :style="selected"
      @pointerdown.prevent
      @mousedown.prevent
    >
      <NButton type="primary" @click="it.remarkOnSelected()">Remark <kbd>C</kbd></NButton>
    </div>
  </Teleport>
</template>

<style scoped>
.on-selection {
  position: fixed;
  z-index: 20;
}
</style>
