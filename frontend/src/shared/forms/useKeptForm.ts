import { ref, watch } from 'vue'
import { forget, keep, kept } from './typed'

/**
 * A short form about a thing, kept under a name in this tab as soon as something is filled in,
 * through a reload and whatever else is opened meanwhile, until it is `cleared`: sent, or given up.
 * `begun` says whether something was kept.
 */
export function useKeptForm<Body extends object>(name: string, empty: () => Body) {
  const before = kept(name)?.body as Body | undefined
  const body = ref(before ?? empty())
  const filledIn = (now: Body) => JSON.stringify(now) !== JSON.stringify(empty())
  watch(
    body,
    (now) => (filledIn(now as Body) ? keep(name, { version: 0, body: now as Body }) : forget(name)),
    { deep: true, flush: 'sync' },
  )
  const cleared = () => (body.value = empty())
  return { body, begun: before !== undefined, cleared }
}
