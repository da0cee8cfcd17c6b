<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useSending } from '@/shared/forms/useSending'
import TextField from '@/design/controls/TextField.vue'

/** From how many different tasks evidence is no longer thin: one setting for the whole school. */
const props = defineProps<{ thin: number }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const thin = ref(String(props.thin))
const { problem, send } = useSending()

async function save() {
  const body = { thin: Number(thin.value) }
  if (await send(() => ask(api.PUT('/api/school', { body })))) emit('done')
}
</script>

<template>
  <form class="notice row" novalidate @submit.prevent="save">
    <TextField
      v-model="thin"
      label="Thin: evidence from fewer tasks than"
      inputmode="numeric"
      :error="problem?.at('thin') ?? (problem ? problem.message : undefined)"
    />
    <NButton type="primary" attr-type="submit">Save for the school</NButton>
    <NButton quaternary @click="emit('cancel')">Cancel</NButton>
  </form>
</template>

<style scoped>
form {
  align-items: end;
  flex-wrap: wrap;
  margin-bottom: 12px;
}
form :deep(.field) {
  margin-bottom: 0;
}
</style>
