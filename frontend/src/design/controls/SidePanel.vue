<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { defineAsyncComponent } from 'vue'

/**
 * What stands beside a list. Where there is no room beside it, what was opened there comes up over
 * the list, and what is always there follows below.
 */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const narrow = useMediaQuery('(max-width: 900px)')
// Only a phone has to load it.
const Drawer = defineAsyncComponent(() => import('./Drawer.vue'))
</script>

<template>
  <Drawer v-if="narrow && open" :label="label" @close="emit('close')"><slot /></Drawer>
  <aside v-else class="side" :aria-label="label"><slot /></aside>
</template>
