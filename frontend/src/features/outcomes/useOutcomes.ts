import { searcher } from '@/design/search'
import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import type { OutcomeOut, StrandOut } from '@/api/schema'

export interface StrandGroup {
  strand: StrandOut | null
  outcomes: OutcomeOut[]
}

/**
 * A class's outcomes in their strands, with the strands that nothing is in yet; with `all`, with those
 * of other classes too.
 */
export function useOutcomes(
  classId: MaybeRefOrGetter<number>,
  all: MaybeRefOrGetter<boolean> = false,
) {
  const query = useQuery({
    key: () => keys.outcomes(toValue(classId)),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/outcomes', {
          params: { path: { class_id: toValue(classId) } },
        }),
      ),
  })
  const groups = computed<StrandGroup[]>(() => {
    const { strands, outcomes } = query.data.value ?? { strands: [], outcomes: [] }
    const active = outcomes.filter((one) => !one.retired)
    const found: StrandGroup[] = strands.map((strand) => ({
      strand,
      outcomes: active.filter((one) => one.strand_id === strand.id),
    }))
    const loose = active.filter((one) => !strands.some((strand) => strand.id === one.strand_id))
    const of = (group: StrandGroup): boolean =>
      toValue(all) ||
      !group.strand!.in_use ||
      group.outcomes.length > 0 ||
      found.some((one) => one.strand!.parent_id === group.strand!.id && of(one))
    const shown = found.filter(of)
    return loose.length ? [...shown, { strand: null, outcomes: loose }] : shown
  })
  const retired = computed(() => (query.data.value?.outcomes ?? []).filter((one) => one.retired))
  return { ...query, groups, retired }
}

/** The groups with the outcomes that have every word of a search, and only those groups. */
export function narrowed(groups: StrandGroup[], wanted: string): StrandGroup[] {
  if (!wanted.trim()) return groups
  const has = searcher(wanted)
  return groups
    .map((group) => ({
      ...group,
      outcomes: group.outcomes.filter((one) => has(one.code, one.title, one.description)),
    }))
    .filter((group) => group.outcomes.length)
}
