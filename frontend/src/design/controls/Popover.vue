<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useId } from 'vue'
import { usePopover } from './usePopover'

/** A button with settings that open under it; they follow it in the order of Tab. */
defineProps<{ label: string; text: string }>()
const id = useId()
const { opened, open, show, hide, toggled } = usePopover()
defineExpose({ hide })

async function begin() {
  await show()
  opened.value?.querySelector<HTMLElement>('[tabindex="0"], button, input')?.focus()
}
</script>

<template>
  <NButton
    ref="button"
    class="link"
    text
    :aria-label="label"
    :aria-expanded="open"
    :aria-controls="id"
    @click="open ? hide() : begin()"
  >
    {{ text }}
  </NButton>
  <div
    :id="id"
    ref="opened"
    class="popover"
    popover="auto"
    role="group"
    :aria-label="label"
    @toggle="toggled"
  >
    <slot v-if="open" :hide="hide" />
  </div>
</template>

<style scoped>
.popover {
  position: fixed;
  inset: auto;
  margin: 0;
  padding: 10px 12px;
  max-width: min(330px, 94vw);
  background: var(--card);
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: var(--r);
}
</style>
