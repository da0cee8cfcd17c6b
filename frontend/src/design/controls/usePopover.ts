import { nextTick, ref, useTemplateRef } from 'vue'

/**
 * Something that opens under its button, or above it, within the window. It stands beside its button
 * in the page, so that Tab goes from one to the other; Escape and a press elsewhere close it, and
 * the browser gives the focus back to the button. The template names them `button` and `opened`.
 */
export function usePopover() {
  const button = useTemplateRef<{ $el: HTMLElement }>('button')
  const opened = useTemplateRef<HTMLElement>('opened')
  const open = ref(false)

  const by = () => button.value?.$el

  async function show() {
    if (!opened.value) return
    // What is in it is drawn only when it is open.
    open.value = true
    await nextTick()
    opened.value.showPopover()
    place()
  }

  function place() {
    const at = by()?.getBoundingClientRect()
    const it = opened.value
    if (!at || !it) return
    const below = at.bottom + 4 + it.offsetHeight <= innerHeight
    it.style.top = `${below ? at.bottom + 4 : Math.max(4, at.top - 4 - it.offsetHeight)}px`
    it.style.left = `${Math.max(4, Math.min(at.left, innerWidth - it.offsetWidth - 4))}px`
  }

  function hide() {
    if (opened.value?.matches(':popover-open')) opened.value.hidePopover()
  }

  function toggled(event: Event) {
    open.value = (event as ToggleEvent).newState === 'open'
  }

  return { opened, open, by, show, hide, toggled }
}
