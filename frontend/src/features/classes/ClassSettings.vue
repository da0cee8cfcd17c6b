<script setup lang="ts">
import { useMessage } from 'naive-ui'
import { useRefresh } from '@/shared/queries'
import { api, ask } from '@/api/client'
import type { ClassOut } from '@/api/schema'
import ClassFields from '@/shared/ClassFields.vue'
import FormProblem from '@/design/FormProblem.vue'
import { useDraft } from '@/shared/useDraft'
import { useSending } from '@/shared/useSending'

const props = defineProps<{ klass: ClassOut }>()
const message = useMessage()
const { problem, send } = useSending(useRefresh().classes)
const draft = useDraft(() => {
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
  if (done) message.success('Saved')
}
</script>

<template>
  <form novalidate @submit.prevent="save">
    <h2>The class</h2>
    <FormProblem :problem="problem" :draft="draft" />
    <ClassFields v-model="draft.body" :problem="problem" />
    <button class="btn" type="submit">Save</button>
  </form>
</template>

<style scoped>
h2 {
  margin-bottom: 12px;
}
</style>
