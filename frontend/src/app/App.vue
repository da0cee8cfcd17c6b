<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { useEventListener } from '@vueuse/core'
import { NButton, NConfigProvider } from 'naive-ui'
import { onSignedOut } from '@/api/client'
import Messages from '@/design/telling/Messages.vue'
import { useTheme } from '@/design/theme'
import { act } from '@/design/keys'
import InsecureNotice from './InsecureNotice.vue'
import { router } from './router'
import { useLeaving } from './useLeaving'
import { useSession } from '@/shared/session'
import { ref, watch, watchEffect } from 'vue'
import { forgetOthers } from '@/features/marking/observing/kept'

const theme = useTheme()
useEventListener(document, 'keydown', act)
/** Where one wanted to go when the page itself could not be fetched. */
const unreached = ref<string | null>(null)
router.onError((_, to) => (unreached.value = to.fullPath))
router.afterEach(() => (unreached.value = null))

function again() {
  if (unreached.value) location.assign(unreached.value)
}

/** Students have pages of their own, and teachers theirs. */
const { data: session } = useSession()
watchEffect(() => {
  const person = session.value?.person
  const here = router.currentRoute.value
  if (!person || !here.matched.length || ['sign-in', 'join'].includes(String(here.name))) return
  const ofStudents = here.path === '/my' || here.path.startsWith('/my/')
  if (person.teacher === ofStudents) void router.replace(person.teacher ? '/' : '/my')
})

watch(
  () => session.value?.person?.id,
  (person) => person && void forgetOthers(person).catch(() => {}),
  { immediate: true },
)

const { giveWay } = useLeaving()
onSignedOut((byAnother) => {
  const { name, fullPath } = router.currentRoute.value
  if (name === 'sign-in' || name === 'first-start' || name === 'join') return
  if (byAnother) void giveWay(fullPath)
  else void router.push({ name: 'sign-in', query: { to: fullPath } })
})
</script>

<template>
  <NConfigProvider :theme="theme.theme" :theme-overrides="theme.overrides" preflight-style-disabled>
    <InsecureNotice />
    <Notice v-if="unreached" clay line role="alert">
      The server does not answer, so that this page cannot be opened yet. Nothing is lost.
      <NButton class="link" text @click="again">Try again</NButton>
    </Notice>
    <RouterView />
    <Messages />
  </NConfigProvider>
</template>
