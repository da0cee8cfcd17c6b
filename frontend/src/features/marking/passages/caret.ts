/** A caret in the work: text that cannot be edited takes no selection by keyboard otherwise. */
import { rangeOf, wordsOf } from '@/shared/passages/words'

const WHILE_READ = {
  contenteditable: 'true',
  role: 'textbox',
  'aria-multiline': 'true',
  'aria-readonly': 'true',
  'aria-label': 'The work. Shift and arrows select, C writes a remark, Escape leaves.',
  spellcheck: 'false',
  // No keyboard on the screen: nothing is typed here.
  inputmode: 'none',
}

/** Put a caret into an element, from some character on, until focus leaves it. */
export function readWithCaret(root: HTMLElement, from: number, left: (at: number) => void): void {
  const before = new Map(Object.keys(WHILE_READ).map((name) => [name, root.getAttribute(name)]))
  const content = root.innerHTML
  const stopped = new AbortController()
  const on = { signal: stopped.signal }
  for (const [name, value] of Object.entries(WHILE_READ)) root.setAttribute(name, value)
  for (const event of ['beforeinput', 'dragstart', 'drop', 'paste', 'cut'] as const)
    root.addEventListener(event, (one) => one.preventDefault(), on)
  // An input method writes all the same: what it wrote goes again.
  root.addEventListener('input', () => (root.innerHTML = content), on)
  root.addEventListener(
    'blur',
    () => {
      if (!document.hasFocus()) return
      stopped.abort()
      for (const [name, value] of before) {
        if (value === null) root.removeAttribute(name)
        else root.setAttribute(name, value)
      }
      left(caretAt(root))
    },
    on,
  )
  root.focus({ preventScroll: true })
  const words = wordsOf(root)
  const start = Math.min(from, Math.max(0, words.text.length - 1))
  const range = rangeOf(words, { from: start, to: start + 1 })
  if (!range) return
  range.collapse(true)
  window.getSelection()?.removeAllRanges()
  window.getSelection()?.addRange(range)
  const box = range.getBoundingClientRect()
  if (box.top < 60 || box.bottom > window.innerHeight)
    range.startContainer.parentElement?.scrollIntoView({ block: 'center' })
}

/** Where the caret is; 0 where it is not in the element any more. */
function caretAt(root: HTMLElement): number {
  const selection = window.getSelection()
  const there = wordsOf(root).nodes.find((one) => one.node === selection?.focusNode)
  return there ? there.from + selection!.focusOffset : 0
}
