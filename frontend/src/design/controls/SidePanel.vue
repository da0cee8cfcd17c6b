<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { NDrawer } from 'naive-ui'

/**
 * What stands beside a list. Where there is no room beside it, what was opened there comes up over
 * the list, and what is always there follows below.
 */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const narrow = useMediaQuery('(max-width: 900px)')
</script>

<template>
  <NDrawer
    v-if="narrow && open"
    show
    placement="bottom"
    height="88%"
    :auto-focus="false"
    :aria-label="label"
    @update:show="emit('close')"
  >
    <div class="drawer"><slot /></div>
  </NDrawer>
  <aside v-else class="side" :aria-label="label"><slot /></aside>
</template>

<style scoped>
.drawer {
  height: 100%;
  overflow: auto;
  padding: 16px 18px 28px;
  overflow-wrap: anywhere;
  border-top: 2px solid var(--ink);
}
</style>
