<script setup lang="ts">
import { NModal } from 'naive-ui'
import { useId } from 'vue'

/** A dialog with a heading; Escape closes it. Only for what cannot be beside the work. */
defineProps<{ title: string; width?: number }>()
const show = defineModel<boolean>('show', { required: true })
const id = useId()
</script>

<template>
  <NModal v-model:show="show" :auto-focus="true" :trap-focus="true">
    <div
      class="dialog"
      role="dialog"
      aria-modal="true"
      :aria-labelledby="id"
      :style="{ width: `min(94vw, ${width ?? 560}px)` }"
    >
      <div class="row head">
        <h2 :id="id">{{ title }}</h2>
        <button class="btn bare push" type="button" @click="show = false">Close</button>
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
