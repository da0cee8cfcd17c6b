import { useQuery } from '@pinia/colada'
import { watch, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import type { useDesk } from './useDesk'
import { hasEntries } from '@/shared/kinds'

/** The entries of other evidence at the desk: whose, which is open, and beginning a new one. */
export function useEntries(
  props: Readonly<{ classId: number; taskId: number; entry?: number }>,
  it: ReturnType<typeof useDesk>,
  currentId: Ref<number>,
) {
  const router = useRouter()
  const { data: entries, refetch } = useQuery({
    key: () => keys.entries(props.taskId),
    query: () =>
      ask(api.GET('/api/tasks/{task_id}/entries', { params: { path: { task_id: props.taskId } } })),
    enabled: () => hasEntries(it.desk.value?.task.kind),
  })
  const entriesOf = (id: number) => entries.value?.filter((one) => one.student_id === id)

  watch(
    () => [currentId.value, props.entry] as const,
    ([id, entry], [before, entryBefore]) => {
      if (id !== before) it.openEntry(before, undefined)
      if (id !== before || entry !== entryBefore) it.openEntry(id, entry)
    },
  )

  function openEntry(entry: number) {
    const { classId, taskId } = props
    const params = { classId, taskId, studentId: currentId.value, entry }
    void router.replace({ name: 'desk', params })
  }

  async function newEntry() {
    if (!hasEntries(it.desk.value?.task.kind)) return
    // Asked for before they are here, it is begun when they are.
    if (!entries.value) await refetch()
    const there = entriesOf(currentId.value)
    if (there) openEntry(there.length + 1)
  }

  /** What was entered or deleted is seen at once. */
  const look = () => Promise.all([it.fetchMark(currentId.value, true), refetch()])

  return { entriesOf, openEntry, newEntry, look }
}
