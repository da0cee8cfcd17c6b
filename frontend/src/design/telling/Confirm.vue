<script setup lang="ts">
import { NButton } from 'naive-ui'
import Modal from './Modal.vue'

/** Asks before what cannot be undone: what is lost (the slot), the button that does it, and a way out. */
defineProps<{ show: boolean; title: string; action: string; keep: string }>()
defineEmits<{ confirm: []; cancel: [] }>()
</script>

<template>
  <Modal :show="show" :title="title" @update:show="$emit('cancel')">
    <p><slot /></p>
    <div class="row sure">
      <NButton type="primary" @click="$emit('confirm')">{{ action }}</NButton>
      <NButton quaternary @click="$emit('cancel')">{{ keep }}</NButton>
    </div>
  </Modal>
</template>

<style scoped>
.sure {
  margin-top: 14px;
}
</style>
