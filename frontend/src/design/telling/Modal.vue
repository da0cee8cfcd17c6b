<script setup lang="ts">
import { NButton, NModal } from 'naive-ui'
import { nextTick, onUnmounted, useId } from 'vue'
import { neverLost } from '@/design/focus'

/** A dialog with a heading; Escape closes it. Only for what cannot be beside the work. */
defineProps<{ title: string; width?: number }>()
const show = defineModel<boolean>('show', { required: true })
const id = useId()
// The dialog may go together with what it stands in.
onUnmounted(() => void nextTick(neverLost))
</script>

<template>
  <NModal v-model:show="show" :auto-focus="true" :trap-focus="true" @after-leave="neverLost">
    <div
      class="dialog"
      role="dialog"
      aria-modal="true"
      :aria-labelledby="id"
      :style="{ width: `min(94vw, ${width ?? 560}px)` }"
    >
      <div class="row head">
        <h2 :id="id">{{ title }}</h2>
        <NButton class="push" quaternary @click="show = false">Close</NButton>
      </div>
      <slot />
    </div>
  </NModal>
</template>

<style scoped>
.dialog {
  background: var(--card);
  border: 1px solid var(--edge);
  border-radius: 12px;
  padding: 16px 20px 20px;
  max-height: 88vh;
  overflow: auto;
}
.head {
  margin-bottom: 10px;
}
</style>
