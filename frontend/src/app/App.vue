<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { NConfigProvider, NMessageProvider } from 'naive-ui'
import { onSignedOut } from '@/api/client'
import { useTheme } from '@/design/theme'
import { act } from './keys'
import { router } from './router'

const theme = useTheme()
useEventListener(document, 'keydown', act)
onSignedOut(() => {
  const { name, fullPath } = router.currentRoute.value
  if (name !== 'sign-in' && name !== 'first-start') {
    void router.push({ name: 'sign-in', query: { to: fullPath } })
  }
})
</script>

<template>
  <NConfigProvider :theme="theme.theme" :theme-overrides="theme.overrides" preflight-style-disabled>
    <NMessageProvider placement="bottom">
      <RouterView />
    </NMessageProvider>
  </NConfigProvider>
</template>
