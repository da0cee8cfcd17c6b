import { computed, watch } from 'vue'
import { asProblem } from '@/api/client'
import { meet, tabPerson } from '@/api/person'
import { useSession } from '@/shared/session'
import { useSaves } from '@/shared/saving/useSaves'
import { keepObserver, observer } from './kept'
import { useObservation } from './useObservation'

/** Whose class is observed: who is signed in, or, without a server, who observed here last. */
export function usePageInTheRoom(taskId: number) {
  const saves = useSaves()
  const { data: session, error: sessionError, refetch } = useSession()

  /** Without a server, whose page it is: who observed last in this browser and has not signed out. */
  const whose = computed(() => session.value?.person?.id ?? tabPerson.value)
  const timeZone = computed(() => session.value?.time_zone ?? observer()?.timeZone ?? 'UTC')
  const it = useObservation(
    taskId,
    () => whose.value,
    () => timeZone.value,
  )

  watch(
    sessionError,
    (error) => {
      const kept = observer()
      if (!error || !kept || tabPerson.value !== null) return
      meet(kept.person)
      saves.open(kept.person)
      void it.restore()
    },
    { immediate: true },
  )
  /** Why there is nothing to show: neither the server nor this browser has it. */
  const problemToOpen = computed(
    () => it.problem.value ?? (sessionError.value && asProblem(sessionError.value)),
  )
  watch(
    session,
    (now) => {
      const person = now?.person
      if (!now) return
      // Nobody is signed in: the server says so, and one goes to sign in.
      if (!person) return void it.load()
      saves.open(person.id)
      keepObserver({ person: person.id, timeZone: now.time_zone, language: now.language })
      void it.load()
    },
    { immediate: true },
  )
  return { it, timeZone, problemToOpen, openAgain: () => void refetch() }
}
