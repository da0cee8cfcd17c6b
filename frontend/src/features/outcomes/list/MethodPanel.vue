<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type { ClassOut, MethodPreviewOut, ScaleOut } from '@/api/schema'
import FormProblem from '@/design/FormProblem.vue'
import { useDraft } from '@/shared/useDraft'
import MethodFields from '@/features/outcomes/MethodFields.vue'
import MethodPreview from '@/features/outcomes/MethodPreview.vue'
import { useSending } from '@/shared/useSending'

/** The class's method: what a change means, whose level it changes, then the change. */
const props = defineProps<{ klass: ClassOut; scales: ScaleOut[] }>()

const message = useMessage()
const { problem, send } = useSending(useRefresh().outcomes)
const form = useDraft(() => {
  const { kind, newest, last } = props.klass.method
  return { id: props.klass.id, version: props.klass.version, body: { kind, newest, last } }
})
const method = form.body
const preview = ref<MethodPreviewOut | null>(null)

const dirty = computed(() => {
  const now = props.klass.method
  return (
    method.kind !== now.kind ||
    (method.kind === 'decaying-average' && Number(method.newest) !== now.newest) ||
    (method.kind === 'recent-mean' && Number(method.last) !== now.last)
  )
})
const path = computed(() => ({ class_id: props.klass.id }))

async function look() {
  problem.value = null
  try {
    preview.value = await ask(
      api.POST('/api/classes/{class_id}/method/preview', {
        params: { path: path.value },
        body: method,
      }),
    )
  } catch (error) {
    preview.value = null
    problem.value = asProblem(error)
  }
}
watchDebounced([method, () => props.scales], look, { debounce: 200, immediate: true, deep: true })

async function save() {
  const done = await send(async () => {
    await ask(
      api.PUT('/api/classes/{class_id}/method', {
        params: { path: path.value },
        body: { method, version: form.version },
      }),
    )
    form.saved()
  })
  if (!done) return
  message.success('The method is changed; no evidence was touched')
  await look()
}
</script>

<template>
  <section>
    <h2>How mastery is worked out</h2>
    <MethodFields v-model="form.body" label="Method of the class" :problem="problem" />
    <FormProblem :problem="problem" :draft="form" />
    <MethodPreview v-if="preview" :preview="preview" :scales="scales" :dirty="dirty" />
    <div v-if="dirty" class="row">
      <button class="btn main" type="button" :disabled="problem !== null" @click="save">
        Use this method
      </button>
      <button class="btn bare" type="button" @click="form.showTheirs()">Keep it as it is</button>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
h2 {
  margin-bottom: 4px;
}
</style>
