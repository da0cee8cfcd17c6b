import { ref, watch } from 'vue'
import { forget, keep, kept } from './typed'

/**
 * A long text that is being written or pasted, kept under a name in this tab through a reload and
 * whatever else is opened meanwhile, until it is `used`.
 */
export function useKeptText(name: string) {
  const text = ref((kept(name)?.body as { text: string } | undefined)?.text ?? '')
  watch(text, (now) => (now ? keep(name, { version: 0, body: { text: now } }) : forget(name)))
  const used = () => forget(name)
  return { text, used }
}
