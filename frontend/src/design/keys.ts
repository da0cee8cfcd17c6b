/** Keyboard shortcuts: registered where they work, listed by "?", silent while typing. */
import { useLocalStorage } from '@vueuse/core'
import { onScopeDispose, shallowReactive } from 'vue'

export interface Shortcut {
  /** As the event names it: "a", "Enter", "ArrowUp", "?"; with "Ctrl+" before it if held. */
  keys: string[]
  /** What it does, for the list. */
  does: string
  /** Returns false when it did nothing, so that the key keeps its own meaning. */
  run: (key: string) => boolean | void
  /** Acts in text fields too (only with Ctrl). */
  typing?: boolean
}

export interface Scope {
  name: string
  shortcuts: Shortcut[]
}

export const scopes = shallowReactive(new Set<Scope>())
/** Single-letter keys can be switched off (WCAG 2.1.4). */
export const singleKeys = useLocalStorage('jade-ladder.single-keys', true)

/** Register shortcuts for as long as the calling component lives. */
export function useKeys(name: string, shortcuts: Shortcut[]): void {
  const scope = { name, shortcuts }
  scopes.add(scope)
  onScopeDispose(() => scopes.delete(scope))
}

function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null
  if (!element?.closest) return false
  if (element.isContentEditable) return !isReading(target)
  return Boolean(
    element.closest(
      'textarea, select, input:not([type=checkbox]):not([type=radio]):not([type=button])',
    ),
  )
}

/** With a caret in words that are only read: arrows move it, and the other keys act. */
function isReading(target: EventTarget | null): boolean {
  return Boolean((target as HTMLElement | null)?.closest?.('[contenteditable][aria-readonly=true]'))
}

function named(event: KeyboardEvent): string {
  const ctrl = event.ctrlKey || event.metaKey
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
  const shift = ctrl && event.shiftKey
  return `${ctrl ? 'Ctrl+' : ''}${shift ? 'Shift+' : ''}${event.altKey ? 'Alt+' : ''}${key}`
}

/** Let the newest scope that knows the key act. Give true when one did. */
export function act(event: KeyboardEvent): boolean {
  if (event.isComposing) return false
  const key = named(event)
  const typing = isTyping(event.target)
  if (event.key.startsWith('Arrow') && isReading(event.target)) return false
  const dialog = document.querySelector('[role=dialog][aria-modal=true]')
  for (const scope of [...scopes].reverse()) {
    for (const shortcut of scope.shortcuts) {
      if (!shortcut.keys.includes(key)) continue
      if (typing && !shortcut.typing) continue
      if (dialog && key !== 'Ctrl+k') continue
      if (!singleKeys.value && key.length === 1) continue
      if (shortcut.run(key) === false) continue
      event.preventDefault()
      return true
    }
  }
  return false
}
