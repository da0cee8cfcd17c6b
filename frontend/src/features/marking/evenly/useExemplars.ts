import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys } from '@/shared/queries'

/** Exemplars for the rubric of a task: which there are, which stands beside, pinning and unpinning. */
export function useExemplars(taskId: number) {
  const { data, refetch } = useQuery({
    key: () => keys.exemplars(taskId),
    query: () =>
      ask(api.GET('/api/tasks/{task_id}/exemplars', { params: { path: { task_id: taskId } } })),
  })
  const all = computed(() => data.value ?? [])
  const besideId = ref<number | null>(null)
  const beside = computed(() => all.value.find((one) => one.id === besideId.value) ?? null)
  const { problem, busy, send } = useSending(() => refetch())

  async function pin(studentId: number, attempt: number, title: string): Promise<boolean> {
    const path = { task_id: taskId, student_id: studentId, attempt }
    const done = await send(() =>
      ask(
        api.PUT('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/exemplar', {
          params: { path },
          body: { title },
        }),
      ),
    )
    if (done) say('Pinned: it can stand beside other work by this rubric')
    return done
  }

  async function unpin() {
    const id = besideId.value
    if (id === null) return
    const path = { exemplar_id: id }
    if (await send(() => ask(api.DELETE('/api/exemplars/{exemplar_id}', { params: { path } }))))
      besideId.value = null
  }

  /** The key of the level that is agreed on a criterion in the exemplar that stands beside. */
  const agreedOn = (criterionKey: string) =>
    beside.value?.levels.find((one) => one.criterion_key === criterionKey)?.level_key ?? null

  const show = (id: number | null) => (besideId.value = id)

  return { all, besideId, beside, show, problem, busy, pin, unpin, agreedOn }
}
