import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/useSending'
import type { OwnRubricLineOut } from '@/api/schema'
import { plain } from '@/design/format'

/** One's rubrics narrowed by words, tag and whether they are archived, and what is done to them. */
export function useLibrary() {
  const query = useQuery({ key: keys.rubrics, query: () => ask(api.GET('/api/rubrics')) })
  const shared = useQuery({
    key: keys.sharedRubrics,
    query: () => ask(api.GET('/api/rubrics/shared')),
  })
  const wanted = ref('')
  const tag = ref<string | null>(null)
  const withArchived = ref(false)
  const { problem, send } = useSending(useRefresh().rubrics)

  const tags = computed(() => {
    const all = (query.data.value ?? []).filter((one) => !one.archived).flatMap((one) => one.tags)
    return [...new Set(all)].sort((a, b) => a.localeCompare(b))
  })
  const archived = computed(() => (query.data.value ?? []).filter((one) => one.archived).length)
  const shown = computed(() => {
    const words = plain(wanted.value).split(/\s+/).filter(Boolean)
    return (query.data.value ?? []).filter(
      (one) =>
        one.archived === withArchived.value &&
        (tag.value === null || one.tags.includes(tag.value)) &&
        words.every((word) => plain(`${one.title} ${one.tags.join(' ')}`).includes(word)),
    )
  })

  const path = (one: OwnRubricLineOut) => ({ path: { rubric_id: one.id } })
  const remove = (one: OwnRubricLineOut) =>
    send(() => ask(api.DELETE('/api/rubrics/{rubric_id}', { params: path(one) })))
  const archive = (one: OwnRubricLineOut, archived: boolean) =>
    send(() =>
      ask(api.PUT('/api/rubrics/{rubric_id}/archived', { params: path(one), body: { archived } })),
    )
  const share = (one: OwnRubricLineOut, on: boolean) =>
    send(() =>
      ask(api.PUT('/api/rubrics/{rubric_id}/shared', { params: path(one), body: { shared: on } })),
    )
  const setTags = (one: OwnRubricLineOut, text: string) =>
    send(() =>
      ask(
        api.PUT('/api/rubrics/{rubric_id}/tags', {
          params: path(one),
          body: { tags: text.split(',') },
        }),
      ),
    )

  return {
    ...query,
    ...{ shared: shared.data, wanted, tag, tags, withArchived, archived, shown, problem },
    ...{ send, remove, archive, share, setTags },
  }
}
