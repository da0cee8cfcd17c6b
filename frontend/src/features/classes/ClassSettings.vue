<script setup lang="ts">
import { say } from '@/design/telling/messages'
import { NButton } from 'naive-ui'
import { useRefresh } from '@/shared/queries'
import { api, ask } from '@/api/client'
import type { ClassOut } from '@/api/schema'
import ClassFields from '@/shared/ClassFields.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'

const props = defineProps<{ klass: ClassOut }>()
const { problem, send } = useSending(useRefresh().classes)
const draft = useDraft('class', () => {
  const { id, version, name, first_day, last_day } = props.klass
  return { id, version, body: { name, first_day, last_day } }
})

async function save() {
  const done = await send(async () => {
    await ask(
      api.PATCH('/api/classes/{class_id}', {
        params: { path: { class_id: props.klass.id } },
        body: { ...draft.body, version: draft.version },
      }),
    )
    draft.saved()
  })
  if (done) say('Saved')
}
</script>

<template>
  <form novalidate @submit.prevent="save">
    <h2>The class</h2>
    <FormProblem :problem="problem" :draft="draft" />
    <ClassFields v-model="draft.body" :problem="problem" />
    <NButton attr-type="submit">Save</NButton>
  </form>
</template>

<style scoped>
h2 {
  margin-bottom: 12px;
}
</style>
