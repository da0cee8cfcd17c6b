<script setup lang="ts">
import { NDrawer } from 'naive-ui'

/** What comes up from the foot of a phone. */
defineProps<{ label: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <NDrawer
    show
    placement="bottom"
    height="88%"
    :auto-focus="false"
    :aria-label="label"
    @update:show="emit('close')"
  >
    <div class="drawer"><slot /></div>
  </NDrawer>
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
