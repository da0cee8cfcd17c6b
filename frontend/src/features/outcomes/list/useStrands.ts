import { nextTick, ref, type Ref } from 'vue'
import { useSending } from '@/shared/forms/useSending'
import { say } from '@/design/telling/messages'
import { api, ask } from '@/api/client'
import type { ClassOutcomesOut, StrandOut } from '@/api/schema'
import type { StrandGroup } from '@/features/outcomes/useOutcomes'

/** What can be done to strands, and to the order of what is in them; `changed` fetches anew. */
export function useStrands(
  classId: number,
  data: Readonly<Ref<ClassOutcomesOut | undefined>>,
  groups: Readonly<Ref<StrandGroup[]>>,
  changed: () => Promise<unknown>,
) {
  /** What was done, for those who hear the page. */
  const said = ref('')

  const { problem, send } = useSending(changed)

  /** Do it; what was refused is shown over what is there now. */
  async function attempt(work: () => Promise<unknown>): Promise<boolean> {
    const done = await send(work)
    if (!done && !problem.value?.stale) await changed()
    return done
  }

  /** Delete a strand in which nothing is; it can be had back where it stood. */
  async function deleteStrand(strand: StrandOut) {
    const order = data.value?.strands.map((one) => one.id) ?? []
    const path = { params: { path: { strand_id: strand.id } } }
    if (!(await attempt(() => ask(api.DELETE('/api/strands/{strand_id}', path))))) return
    say(`The strand ${strand.title} is deleted`, {
      undone: `The strand ${strand.title} is back`,
      work: async () => {
        const { title, parent_id } = strand
        const { id } = await ask(api.POST('/api/strands', { body: { title } }))
        const anew = { params: { path: { strand_id: id } }, body: { title, parent_id } }
        await ask(api.PUT('/api/strands/{strand_id}', anew))
        const again = order.map((one) => (one === strand.id ? id : one))
        await ask(api.PUT('/api/strands/order', { body: { order: again } }))
        await changed()
      },
    })
  }

  /** Move a strand among those that stand beside it. */
  async function moveStrand(strand: StrandOut, by: number) {
    const all = data.value?.strands ?? []
    const beside = all.filter((one) => one.parent_id === strand.parent_id).map((one) => one.id)
    if (!swap(beside, beside.indexOf(strand.id), by)) return
    const order = [
      ...beside,
      ...all.filter((one) => one.parent_id !== strand.parent_id).map((one) => one.id),
    ]
    await attempt(() => ask(api.PUT('/api/strands/order', { body: { order } })))
    said.value = `Moved to place ${beside.indexOf(strand.id) + 1} of ${beside.length}`
  }

  /** Put an outcome into a strand, before another or at its end. */
  const place = (id: number, strandId: number | null, beforeId: number | null) =>
    attempt(() =>
      ask(
        api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}/place', {
          params: { path: { class_id: classId, outcome_id: id } },
          body: { strand_id: strandId, before_id: beforeId },
        }),
      ),
    )

  /** Move an outcome one place up or down, into the strand beyond at the edge; the focus stays. */
  async function moveOutcome(id: number, by: -1 | 1, handle: string) {
    const at = groups.value.findIndex((group) => group.outcomes.some((one) => one.id === id))
    const group = groups.value[at]
    if (!group) return
    const ids = group.outcomes.map((one) => one.id)
    const to = ids.indexOf(id) + by
    if (to >= 0 && to < ids.length) {
      const before = by < 0 ? ids[to]! : (ids[to + 1] ?? null)
      if (!(await place(id, group.strand?.id ?? null, before))) return
      said.value = `Moved to place ${to + 1} of ${ids.length}`
    } else {
      const next = groups.value[at + by]
      if (!next) return
      const before = by < 0 ? null : (next.outcomes[0]?.id ?? null)
      if (!(await place(id, next.strand?.id ?? null, before))) return
      said.value = `Moved into ${next.strand?.title ?? 'no strand'}`
    }
    await nextTick()
    document.querySelector<HTMLElement>(handle)?.focus()
  }

  return {
    problem,
    said,
    attempt,
    deleteStrand,
    moveStrand,
    place,
    moveOutcome,
  }
}

function swap(ids: number[], at: number, by: number): boolean {
  const to = at + by
  if (at < 0 || to < 0 || to >= ids.length) return false
  ;[ids[at], ids[to]] = [ids[to]!, ids[at]!]
  return true
}
