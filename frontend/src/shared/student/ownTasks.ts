/** A student's own tasks, by what is to be done with them. */
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

export function useOwnTasks() {
  const query = useQuery({ key: keys.ownTasks, query: () => ask(api.GET('/api/my/tasks')) })
  const all = computed(() => query.data.value ?? [])
  /** Another attempt is open. */
  const again = computed(() => all.value.filter((one) => one.granted && !one.closed))
  /** Nothing is handed in yet, and something can be. */
  const due = computed(() =>
    all.value.filter((one) => !one.closed && !one.has_work && !one.granted && !one.back_number),
  )
  /** Handed in, or being marked; nothing is back yet. */
  const waiting = computed(() =>
    all.value.filter(
      (one) => one.has_work && one.present && one.back_number !== one.attempt && !one.granted,
    ),
  )
  /** Closed without anything handed in. */
  const missed = computed(() =>
    all.value.filter(
      (one) => one.present && !one.has_work && !one.back_number && one.closed === 'past-closing',
    ),
  )
  /** What was handed back, the newest first. */
  const back = computed(() =>
    all.value
      .filter((one) => one.back_at)
      .sort((one, other) => other.back_at!.localeCompare(one.back_at!)),
  )
  const fresh = computed(() => back.value.filter((one) => !one.read_at))
  return { ...query, all, again, due, waiting, missed, back, fresh }
}
