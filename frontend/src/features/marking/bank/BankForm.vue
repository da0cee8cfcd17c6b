<script setup lang="ts">
import { NButton } from 'naive-ui'
import { onMounted, useTemplateRef } from 'vue'
import type { Problem } from '@/api/client'
import { limits } from '@/api/limits'
import TextField from '@/design/controls/TextField.vue'
import FormProblem from '@/design/telling/FormProblem.vue'

/** A text of the bank, written or edited. */
const text = defineModel<string>({ required: true })
defineProps<{ does: string; hint?: string; problem: Problem | null; busy: boolean }>()
defineEmits<{ save: []; cancel: [] }>()
const FIELDS = ['{given name}', '{family name}', '{name}', '{another student}']
const form = useTemplateRef('form')
onMounted(() => form.value?.querySelector('textarea')?.focus())
</script>

<template>
  <form ref="form" class="bank-form" @submit.prevent="$emit('save')">
    <TextField
      v-model="text"
      label="Text"
      multiline
      :rows="3"
      :error="problem?.at('text')"
      :maxlength="limits.NewBankRemarkIn.text"
      :hint="`Fields: ${FIELDS.join(', ')}. ${hint ?? ''}`"
    />
    <FormProblem :problem="problem" />
    <div class="row">
      <NButton type="primary" attr-type="submit" :loading="busy">{{ does }}</NButton>
      <NButton quaternary @click="$emit('cancel')">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
.bank-form {
  display: grid;
  gap: 8px;
  max-width: 72ch;
  padding: 10px 0;
  flex: 1;
}
</style>
