import { useRouter } from 'vue-router'
import { leave, tabPerson } from '@/api/person'
import { useForgetting } from '@/shared/session'
import { forgetFiles } from '@/shared/files/partFiles'
import { forgetAll } from '@/shared/forms/typed'
import { dropAll } from '@/shared/recording/kept'
import { forgetClasses } from '@/features/marking/observing/kept'
import { useSaves } from '@/shared/saving/useSaves'

/** Leaving this tab's person: nothing of theirs stays on the page, or in its memory. */
export function useLeaving() {
  const router = useRouter()
  const saves = useSaves()
  const forget = useForgetting()

  /** Somebody else signed in in this browser, or this person signed out in another tab. */
  async function giveWay(to: string) {
    tabPerson.value = null
    saves.close(false)
    await router.push({ name: 'sign-in', query: { to, other: '1' } })
    forget()
    forgetFiles()
  }

  /** Sign out, with or without a server: what is not sent yet is kept for its person, or deleted. */
  async function signOut(deleted: boolean) {
    const person = tabPerson.value
    saves.close(deleted)
    if (deleted && person !== null) void dropAll(person).catch(() => {})
    if (person !== null) void forgetClasses(person).catch(() => {})
    forgetAll()
    leave()
    await router.push({ name: 'sign-in' })
    forget()
    forgetFiles()
  }

  return { giveWay, signOut }
}
