<script setup lang="ts">
import { NButton } from 'naive-ui'
import Modal from '@/design/telling/Modal.vue'

/** A student signs out while what they wrote last is not saved yet. */
const show = defineModel<boolean>('show', { required: true })
defineEmits<{ delete: [] }>()
</script>

<template>
  <Modal v-model:show="show" title="Sign out with unsaved writing?">
    <p>
      What you wrote last has not reached the server yet. Stay signed in until it is saved, or
      delete it from this device.
    </p>
    <div class="row">
      <NButton type="primary" @click="show = false">Stay signed in</NButton>
      <NButton @click="$emit('delete')">Delete it and sign out</NButton>
    </div>
  </Modal>
</template>

<style scoped>
.row {
  margin-top: 14px;
  flex-wrap: wrap;
}
</style>
