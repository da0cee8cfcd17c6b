<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { NConfigProvider, NMessageProvider } from 'naive-ui'
import { onSignedOut } from '@/api/client'
import { useTheme } from '@/design/theme'
import { act } from '@/design/keys'
import InsecureNotice from './InsecureNotice.vue'
import { router } from './router'
import { useLeaving } from './useLeaving'
import { ref } from 'vue'

const theme = useTheme()
useEventListener(document, 'keydown', act)
/** Where one wanted to go when the page itself could not be fetched. */
const unreached = ref<string | null>(null)
router.onError((_, to) => (unreached.value = to.fullPath))
router.afterEach(() => (unreached.value = null))

function again() {
  if (unreached.value) location.assign(unreached.value)
}

const { giveWay } = useLeaving()
onSignedOut((byAnother) => {
  const { name, fullPath } = router.currentRoute.value
  if (name === 'sign-in' || name === 'first-start') return
  if (byAnother) void giveWay(fullPath)
  else void router.push({ name: 'sign-in', query: { to: fullPath } })
})
</script>

<template>
  <NConfigProvider :theme="theme.theme" :theme-overrides="theme.overrides" preflight-style-disabled>
    <NMessageProvider placement="bottom">
      <InsecureNotice />
      <p v-if="unreached" class="notice clay line" role="alert">
        The server does not answer, so that this page cannot be opened yet. Nothing is lost.
        <button class="link" type="button" @click="again">Try again</button>
      </p>
      <RouterView />
    </NMessageProvider>
  </NConfigProvider>
</template>
