<script setup lang="ts">
import { searchable } from '@/design/search'
import { NButton } from 'naive-ui'
import { useId } from 'vue'
import { usePopover } from './usePopover'

interface MenuItem {
  text: string
  act: () => unknown
  disabled?: boolean
}

/**
 * A button with a menu of what else can be done. It follows its button in the order of Tab, closes
 * with Escape or a press elsewhere, and gives the focus back; arrow keys, Home and End move in it.
 */
defineProps<{ label: string; text?: string; small?: boolean; items: MenuItem[] }>()

const id = useId()
const { opened, open, by, show, hide, toggled } = usePopover()

const entries = () => [...(opened.value?.querySelectorAll<HTMLElement>('button:enabled') ?? [])]

async function begin() {
  await show()
  entries()[0]?.focus()
}

function move(event: KeyboardEvent) {
  const all = entries()
  const here = all.indexOf(document.activeElement as HTMLElement)
  const to = {
    ArrowDown: (here + 1) % all.length,
    ArrowUp: (here - 1 + all.length) % all.length,
    Home: 0,
    End: all.length - 1,
  }[event.key]
  const letter = event.key.length === 1 && event.key !== ' ' ? searchable(event.key) : null
  if (to !== undefined) all[to]?.focus()
  else if (letter) {
    const after = [...all.slice(here + 1), ...all.slice(0, here + 1)]
    after.find((one) => searchable(one.textContent).startsWith(letter))?.focus()
  } else {
    if (event.key === 'Tab') hide()
    return
  }
  event.preventDefault()
  event.stopPropagation()
}

/** The focus is back on the button before anything opens, so that what opens gives it back there. */
function choose(item: MenuItem) {
  hide()
  by()?.focus()
  item.act()
}
</script>

<template>
  <NButton
    ref="button"
    :size="small ? 'small' : 'medium'"
    :quaternary="small"
    :aria-label="label"
    aria-haspopup="menu"
    :aria-expanded="open"
    :aria-controls="id"
    @click="open ? hide() : begin()"
  >
    {{ text ?? '⋯' }}
  </NButton>
  <div
    :id="id"
    ref="opened"
    class="menu"
    popover="auto"
    role="menu"
    :aria-label="label"
    @toggle="toggled"
    @keydown="move"
  >
    <button
      v-for="item in open ? items : []"
      :key="item.text"
      type="button"
      role="menuitem"
      tabindex="-1"
      :disabled="item.disabled"
      @click="choose(item)"
    >
      {{ item.text }}
    </button>
  </div>
</template>

<style scoped>
.menu {
  position: fixed;
  inset: auto;
  margin: 0;
  padding: 5px;
  min-width: 150px;
  max-width: min(340px, 94vw);
  max-height: 60vh;
  overflow: auto;
  background: var(--card);
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: var(--r);
}
.menu button {
  display: block;
  width: 100%;
  padding: 7px 10px;
  border: 0;
  border-radius: 5px;
  background: none;
  text-align: left;
  cursor: pointer;
}
.menu button:is(:hover, :focus) {
  background: var(--sunk);
}
.menu button:disabled {
  opacity: 0.55;
  cursor: not-allowed;
  background: none;
}
@media (pointer: coarse) {
  .menu button {
    min-height: 44px;
  }
}
</style>
