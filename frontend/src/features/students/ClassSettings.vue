<script setup lang="ts">
import { useQueryCache } from '@pinia/colada'
import { useMessage } from 'naive-ui'
import { ref } from 'vue'
import { classesKey } from '@/api/classes'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ClassOut } from '@/api/schema'
import ClassFields from '@/design/ClassFields.vue'
import FormProblem from '@/design/FormProblem.vue'
import { useDraft } from '@/design/useDraft'

const props = defineProps<{ klass: ClassOut }>()
const cache = useQueryCache()
const message = useMessage()
const problem = ref<Problem | null>(null)
const draft = useDraft(() => {
  const { id, version, name, first_day, last_day } = props.klass
  return { id, version, body: { name, first_day, last_day } }
})

async function save() {
  problem.value = null
  try {
    await ask(
      api.PATCH('/api/classes/{class_id}', {
        params: { path: { class_id: props.klass.id } },
        body: { ...draft.body, version: draft.version },
      }),
    )
    draft.saved()
    await cache.invalidateQueries({ key: classesKey })
    message.success('Saved')
  } catch (error) {
    problem.value = asProblem(error)
    if (problem.value.stale) await cache.invalidateQueries({ key: classesKey })
  }
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
