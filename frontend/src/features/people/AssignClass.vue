<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { AccountOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'

/** Handing a class over to another teacher, whoever teaches it now. */
const props = defineProps<{ klass: { id: number; name: string }; teachers: AccountOut[] }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { problem, send } = useSending()
const to = ref<number | null>(null)

async function save() {
  const done = await send(() =>
    ask(
      api.PUT('/api/classes/{class_id}/teachers/assigned', {
        params: { path: { class_id: props.klass.id } },
        body: { person_id: to.value ?? 0 },
      }),
    ),
  )
  if (!done) return
  const name = props.teachers.find((one) => one.id === to.value)?.name
  say(`${name} is responsible for ${props.klass.name} now`)
  emit('done')
}
</script>

<template>
  <form v-opens class="opened" novalidate @submit.prevent="save">
    <h2>Hand over {{ klass.name }}</h2>
    <FormProblem :problem="problem" />
    <SelectField v-model="to" label="Responsible from now on" :error="problem?.at('person_id')">
      <option :value="null">choose a teacher</option>
      <option v-for="one in teachers" :key="one.id" :value="one.id">{{ one.name }}</option>
    </SelectField>
    <div class="row">
      <NButton type="primary" attr-type="submit">Hand over</NButton>
      <NButton quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
  </form>
</template>
