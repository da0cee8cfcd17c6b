<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { useStorage } from '@vueuse/core'
import { computed } from 'vue'

/** Said once: what a browser switches off at an address without https. */
const said = useStorage('jade-ladder.insecure-said', false)
const shown = computed(() => !window.isSecureContext && !said.value)
</script>

<template>
  <Notice v-if="shown" clay line role="status">
    This address has no https, so that your browser switches off encryption in the page, the
    microphone, and working without a server; others on the network could read along. The person who
    runs Jade Ladder can switch https on (docs/running.md).
    <NButton class="link" text @click="said = true">Understood</NButton>
  </Notice>
</template>
