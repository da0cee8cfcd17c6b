<script setup lang="ts">
import { useQueryCache } from '@pinia/colada'
import { useMessage } from 'naive-ui'
import { reactive, ref, watch } from 'vue'
import { classesKey } from '@/api/classes'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ClassOut } from '@/api/schema'
import ClassFields from '@/design/ClassFields.vue'

const props = defineProps<{ klass: ClassOut }>()
const cache = useQueryCache()
const message = useMessage()
const problem = ref<Problem | null>(null)
const body = reactive({ name: '', first_day: '', last_day: '', version: 0 })

// By its version: a class that is only loaded again must not undo what is being typed.
watch(
  () => [props.klass.id, props.klass.version],
  () => {
    const { name, first_day, last_day, version } = props.klass
    Object.assign(body, { name, first_day, last_day, version })
  },
  { immediate: true },
)

async function save() {
  problem.value = null
  try {
    await ask(
      api.PATCH('/api/classes/{class_id}', {
        params: { path: { class_id: props.klass.id } },
        body,
      }),
    )
    await cache.invalidateQueries({ key: classesKey })
    message.success('Saved')
  } catch (error) {
    problem.value = asProblem(error)
  }
}
</script>

<template>
  <form novalidate @submit.prevent="save">
    <h2>The class</h2>
    <ClassFields v-model="body" :problem="problem" />
    <button class="btn" type="submit">Save</button>
  </form>
</template>

<style scoped>
h2 {
  margin-bottom: 12px;
}
</style>
