import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'

/** Two revisions of a rubric side by side, what the newer does to tasks, and applying it. */
export function useRevisions(rubricId: number) {
  const path = { rubric_id: rubricId }
  const old = ref<number>()
  const wanted = ref<number>()
  const { problem, busy, send } = useSending()
  /** What is known may be another now: rubrics, tasks, marks, mastery. */
  const forget = useRefresh().everything

  const rubric = useQuery({
    key: keys.revisedRubric(rubricId),
    query: () => ask(api.GET('/api/rubrics/{rubric_id}', { params: { path } })),
  })
  const sides = useQuery({
    key: () => keys.revisions(rubricId, old.value ?? 0, wanted.value ?? 0),
    query: () =>
      ask(
        api.GET('/api/rubrics/{rubric_id}/revisions', {
          params: { path, query: { old: old.value, new: wanted.value } },
        }),
      ),
    placeholderData: (before) => before,
    // What was known of tasks and marks when this page was left is not shown again.
    gcTime: 0,
  })
  const target = computed(() => sides.data.value?.new)

  /** Tasks to go; at first, to the newest revision, those on which nothing is marked. */
  const chosen = ref<number[] | null>(null)
  const effects = useQuery({
    key: () => keys.revisionEffects(rubricId, target.value ?? 0, chosen.value ?? []),
    query: () =>
      ask(
        api.POST('/api/rubrics/{rubric_id}/revisions/{number}/effects', {
          params: { path: { ...path, number: target.value! } },
          body: { tasks: chosen.value ?? [] },
        }),
      ),
    enabled: () => target.value !== undefined,
    placeholderData: (before) => before,
    gcTime: 0,
  })
  /** Whether what is shown is of the revision picked, and no longer of the one before. */
  const here = computed(
    () => !sides.isPlaceholderData.value && chosen.value !== null && effects.data.value,
  )
  /** What the chosen tasks do together is being worked out. */
  const working = computed(
    () => effects.isPlaceholderData.value || effects.asyncStatus.value === 'loading',
  )
  watch(target, () => (chosen.value = null))
  watch(effects.data, (now) => {
    if (!now || effects.isPlaceholderData.value) return
    const newest = sides.data.value?.revisions.at(-1)?.number === target.value
    chosen.value ??= now.tasks.filter((task) => newest && !task.marks).map((task) => task.id)
  })

  function choose(taskId: number, on: boolean) {
    const others = (chosen.value ?? []).filter((id) => id !== taskId)
    chosen.value = on ? [...others, taskId].sort((a, b) => a - b) : others
  }

  const applyTo = (number: number, version: number, tasks: number[]) =>
    ask(
      api.POST('/api/rubrics/{rubric_id}/revisions/{number}/apply', {
        params: { path: { ...path, number } },
        body: { version, tasks },
      }),
    )

  /** Apply the newer revision to the chosen tasks. Give the way back, or nothing where it failed. */
  async function apply(): Promise<(() => Promise<void>) | undefined> {
    if (!rubric.data.value || target.value === undefined) return
    let version = rubric.data.value.version
    const number = target.value
    const moved = (effects.data.value?.tasks ?? []).filter((one) => chosen.value?.includes(one.id))
    const done = await send(async () => {
      version = (await applyTo(number, version, chosen.value ?? [])).version
    })
    if (!done) return
    return async () => {
      for (const before of new Set(moved.map((one) => one.revision))) {
        const tasks = moved.filter((one) => one.revision === before).map((one) => one.id)
        version = (await applyTo(before, version, tasks)).version
      }
      await forget()
    }
  }

  return {
    forget,
    here,
    working,
    rubric,
    sides,
    effects,
    old,
    wanted,
    chosen,
    choose,
    apply,
    problem,
    busy,
  }
}
