<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import TextField from '@/design/controls/TextField.vue'
import { useSending } from '@/shared/forms/useSending'

/** Putting in a link: a button, and once it is pressed the field for the address. */
const props = defineProps<{ add: (address: string) => Promise<unknown> }>()
const linking = ref(false)
const address = ref('')
const { problem, busy, send } = useSending()

async function put() {
  if (!(await send(() => props.add(address.value)))) return
  address.value = ''
  linking.value = false
}
</script>

<template>
  <NButton v-if="!linking" quaternary @click="linking = true">Add a link</NButton>
  <!-- Not a form: it stands within others. -->
  <div v-else class="row link" role="group" aria-label="A link" @keydown.enter.prevent="put">
    <TextField
      v-model="address"
      label="Address of the link"
      placeholder="https://"
      inputmode="url"
      :error="problem && (problem.at('address') ?? problem.message)"
    />
    <NButton :disabled="busy" @click="put">Add</NButton>
    <NButton quaternary @click="linking = false">Cancel</NButton>
  </div>
</template>

<style scoped>
.link {
  flex-wrap: wrap;
  align-items: end;
  gap: 8px 14px;
}
</style>
