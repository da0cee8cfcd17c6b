import { nextTick, ref, type Ref } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ClassOutcomesOut } from '@/api/schema'
import type { StrandGroup } from './useOutcomes'

/** What can be done to strands, and to the order of what is in them; `changed` fetches anew. */
export function useStrands(
  classId: number,
  data: Readonly<Ref<ClassOutcomesOut | undefined>>,
  changed: () => Promise<void>,
) {
  const problem = ref<Problem | null>(null)
  /** What was done, for those who hear the page. */
  const said = ref('')

  async function attempt(work: () => Promise<unknown>): Promise<boolean> {
    problem.value = null
    try {
      await work()
      await changed()
      return true
    } catch (caught) {
      problem.value = asProblem(caught)
      return false
    }
  }

  const addStrand = (title: string) =>
    attempt(() => ask(api.POST('/api/strands', { body: { title } })))

  const renameStrand = (id: number, title: string) =>
    attempt(() =>
      ask(
        api.PUT('/api/strands/{strand_id}', {
          params: { path: { strand_id: id } },
          body: { title },
        }),
      ),
    )

  const deleteStrand = (id: number) =>
    attempt(() =>
      ask(api.DELETE('/api/strands/{strand_id}', { params: { path: { strand_id: id } } })),
    )

  async function moveStrand(id: number, by: number) {
    const order = (data.value?.strands ?? []).map((strand) => strand.id)
    if (!swap(order, order.indexOf(id), by)) return
    await attempt(() => ask(api.PUT('/api/strands/order', { body: { order } })))
  }

  /** Move an outcome among those of its strand, keeping the focus where it was. */
  async function moveOutcome(group: StrandGroup, id: number, by: number, from: EventTarget | null) {
    const ids = group.outcomes.map((one) => one.id)
    if (!swap(ids, ids.indexOf(id), by)) return
    const all = (data.value?.outcomes ?? []).map((one) => one.id)
    const order = [...ids, ...all.filter((one) => !ids.includes(one))]
    await attempt(() =>
      ask(
        api.PUT('/api/classes/{class_id}/outcomes/order', {
          params: { path: { class_id: classId } },
          body: { order },
        }),
      ),
    )
    said.value = `Moved to place ${ids.indexOf(id) + 1} of ${ids.length}`
    await nextTick()
    ;(from as HTMLElement | null)?.focus()
  }

  return { problem, said, addStrand, renameStrand, deleteStrand, moveStrand, moveOutcome }
}

function swap(ids: number[], at: number, by: number): boolean {
  const to = at + by
  if (at < 0 || to < 0 || to >= ids.length) return false
  ;[ids[at], ids[to]] = [ids[to]!, ids[at]!]
  return true
}
