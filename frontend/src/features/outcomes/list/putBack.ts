import { api, ask } from '@/api/client'
import type { OutcomeOut } from '@/api/schema'

type Changes = Record<string, unknown>

/** What of an outcome was changed with others, as it was; its method is undone apart. */
function before(one: OutcomeOut, changed: string[]): Changes {
  const all: Changes = {
    minimum: one.minimum,
    scale_id: one.scale_id,
    strand_id: one.strand_id,
    retired: one.retired,
  }
  return Object.fromEntries(changed.map((name) => [name, all[name]]))
}

/** Put several outcomes back to what they were: together, those that were alike. */
export async function putBack(classId: number, outcomes: OutcomeOut[], changed: string[]) {
  const alike = new Map<string, number[]>()
  for (const one of outcomes) {
    const key = JSON.stringify(before(one, changed))
    alike.set(key, [...(alike.get(key) ?? []), one.id])
  }
  for (const [as, ids] of alike) {
    await ask(
      api.PUT('/api/classes/{class_id}/outcomes/bulk', {
        params: { path: { class_id: classId } },
        body: { outcome_ids: ids, ...(JSON.parse(as) as Changes) },
      }),
    )
  }
}
