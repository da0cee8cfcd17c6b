import { searcher } from '@/design/search'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import type { OwnRubricLineOut } from '@/api/schema'

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
  const refresh = useRefresh().rubrics
  const { problem, send } = useSending(refresh)

  const tags = computed(() => {
    const all = (query.data.value ?? []).filter((one) => !one.archived).flatMap((one) => one.tags)
    return [...new Set(all)].sort((a, b) => a.localeCompare(b))
  })
  const archived = computed(() => (query.data.value ?? []).filter((one) => one.archived).length)
  const shown = computed(() => {
    const has = searcher(wanted.value)
    return (query.data.value ?? []).filter(
      (one) =>
        one.archived === withArchived.value &&
        (tag.value === null || one.tags.includes(tag.value)) &&
        has(one.title, ...one.tags),
    )
  })

  const path = (one: OwnRubricLineOut) => ({ path: { rubric_id: one.id } })
  const remove = async (one: OwnRubricLineOut) => {
    const done = await send(() =>
      ask(api.DELETE('/api/rubrics/{rubric_id}', { params: path(one) })),
    )
    if (done) say(`${one.title} is deleted`)
  }

  /** Turn something on or off, say so, and offer to undo it. */
  async function turn(
    set: (on: boolean) => Promise<unknown>,
    on: boolean,
    words: (on: boolean) => string,
  ) {
    if (!(await send(() => set(on)))) return
    const work = async () => {
      await set(!on)
      await refresh()
    }
    say(words(on), { work, undone: words(!on) })
  }
  const archive = (one: OwnRubricLineOut, archived: boolean) =>
    turn(
      (on) =>
        ask(
          api.PUT('/api/rubrics/{rubric_id}/archived', {
            params: path(one),
            body: { archived: on },
          }),
        ),
      archived,
      (on) => (on ? `${one.title} is archived` : `${one.title} is in the library`),
    )
  const share = (one: OwnRubricLineOut, shared: boolean) =>
    turn(
      (on) =>
        ask(
          api.PUT('/api/rubrics/{rubric_id}/shared', { params: path(one), body: { shared: on } }),
        ),
      shared,
      (on) => (on ? `Colleagues can copy ${one.title}` : `${one.title} is shared no longer`),
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
