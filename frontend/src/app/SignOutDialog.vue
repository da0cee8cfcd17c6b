<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import Modal from '@/design/telling/Modal.vue'
import { several } from '@/design/format'
import { useSaves } from '@/shared/saving/useSaves'

/** Signing out while something marked is not sent yet: what it is, and what becomes of it. */
const show = defineModel<boolean>('show', { required: true })
defineProps<{
  /** How many spoken remarks are not sent. */
  recordings: number
}>()
const emit = defineEmits<{ leave: [deleted: boolean] }>()
const saves = useSaves()
const unsent = computed(() => [...saves.waiting, ...saves.refused])
const byLabel = computed(() => {
  const counts = new Map<string, number>()
  for (const { label } of unsent.value) counts.set(label, (counts.get(label) ?? 0) + 1)
  return [...counts]
})
</script>

<template>
  <Modal v-model:show="show" title="Sign out with unsent work?">
    <p>This has not reached the server yet:</p>
    <ul>
      <li v-if="recordings">{{ several(recordings, 'spoken remark') }}</li>
      <li v-for="[label, count] in byLabel" :key="label">
        {{ label }}: {{ several(count, 'choice or remark', 'choices and remarks') }}
      </li>
    </ul>
    <p class="small quiet">
      What you keep stays in this browser, with these names, and is sent when you sign in here
      again. On a computer that others use, delete it if they must not see it.
    </p>
    <div class="row">
      <NButton type="primary" @click="emit('leave', false)"> Keep for me and sign out </NButton>
      <NButton @click="emit('leave', true)">Delete and sign out</NButton>
      <NButton class="push" quaternary @click="show = false">Stay signed in</NButton>
    </div>
  </Modal>
</template>

<style scoped>
ul {
  margin: 8px 0;
  padding-left: 20px;
}
.row {
  margin-top: 14px;
}
</style>
