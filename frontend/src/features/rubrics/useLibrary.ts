import { useQuery, useQueryCache } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { RubricLineOut } from '@/api/schema'
import { plain } from '@/design/format'

/** One's rubrics narrowed by words, tag and whether they are put away, and what is done to them. */
export function useLibrary() {
  const cache = useQueryCache()
  const query = useQuery({ key: ['rubrics'], query: () => ask(api.GET('/api/rubrics')) })
  const shared = useQuery({
    key: ['rubrics', 'shared'],
    query: () => ask(api.GET('/api/rubrics/shared')),
  })
  const wanted = ref('')
  const tag = ref<string | null>(null)
  const away = ref(false)
  const problem = ref<Problem | null>(null)

  const tags = computed(() => {
    const all = (query.data.value ?? []).filter((one) => !one.archived).flatMap((one) => one.tags)
    return [...new Set(all)].sort((a, b) => a.localeCompare(b))
  })
  const putAway = computed(() => (query.data.value ?? []).filter((one) => one.archived).length)
  const shown = computed(() => {
    const words = plain(wanted.value).split(/\s+/).filter(Boolean)
    return (query.data.value ?? []).filter(
      (one) =>
        one.archived === away.value &&
        (tag.value === null || one.tags.includes(tag.value)) &&
        words.every((word) => plain(`${one.title} ${one.tags.join(' ')}`).includes(word)),
    )
  })

  async function attempt(work: () => Promise<unknown>): Promise<boolean> {
    problem.value = null
    try {
      await work()
      await cache.invalidateQueries({ key: ['rubrics'] }, 'all')
      return true
    } catch (caught) {
      problem.value = asProblem(caught)
      return false
    }
  }

  const path = (one: RubricLineOut) => ({ path: { rubric_id: one.id } })
  const remove = (one: RubricLineOut) =>
    attempt(() => ask(api.DELETE('/api/rubrics/{rubric_id}', { params: path(one) })))
  const archive = (one: RubricLineOut, archived: boolean) =>
    attempt(() =>
      ask(api.PUT('/api/rubrics/{rubric_id}/archived', { params: path(one), body: { archived } })),
    )
  const share = (one: RubricLineOut, on: boolean) =>
    attempt(() =>
      ask(api.PUT('/api/rubrics/{rubric_id}/shared', { params: path(one), body: { shared: on } })),
    )
  const setTags = (one: RubricLineOut, text: string) =>
    attempt(() =>
      ask(
        api.PUT('/api/rubrics/{rubric_id}/tags', {
          params: path(one),
          body: { tags: text.split(',') },
        }),
      ),
    )

  return {
    ...query,
    ...{ shared: shared.data, wanted, tag, tags, away, putAway, shown, problem },
    ...{ attempt, remove, archive, share, setTags },
  }
}
