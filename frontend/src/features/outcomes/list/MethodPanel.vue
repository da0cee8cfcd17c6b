<script setup lang="ts">
import { say } from '@/design/telling/messages'
import { watchDebounced } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import { undoMethods } from '@/shared/methods/undoMethods'
import type { ClassOut, MethodPreviewOut, ScaleOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useDraft } from '@/shared/forms/useDraft'
import MethodFields from '@/shared/methods/MethodFields.vue'
import MethodSince from '@/shared/methods/MethodSince.vue'
import MethodPreview from '@/features/outcomes/MethodPreview.vue'
import { useSending } from '@/shared/forms/useSending'

/** The class's method: what a change means, whose level it changes, then the change. */
const props = defineProps<{ klass: ClassOut; scales: ScaleOut[] }>()

const refresh = useRefresh().outcomes
const { problem, send } = useSending(refresh)
const form = useDraft(null, () => {
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

const since = ref<string | null>(null)

async function save() {
  const { name } = props.klass.method
  const classId = props.klass.id
  let entries: number[] = []
  const done = await send(async () => {
    const body = { method: { ...method }, version: form.version, since: since.value || null }
    const put = api.PUT('/api/classes/{class_id}/method', { params: { path: path.value }, body })
    entries = (await ask(put)).entries
    form.saved()
  })
  if (!done) return
  since.value = null
  say('The method is changed; no evidence was touched', {
    work: async () => {
      await undoMethods(classId, entries)
      await refresh()
    },
    undone: `The method is ${name} again`,
  })
  await look()
}
</script>

<template>
  <section>
    <h2>How mastery is worked out</h2>
    <MethodFields v-model="form.body" label="Method of the class" :problem="problem" />
    <FormProblem :problem="problem" :draft="form" />
    <MethodPreview v-if="preview" :preview="preview" :scales="scales" :dirty="dirty" />
    <MethodSince v-if="dirty" v-model="since" :problem="problem" />
    <p class="small">
      <RouterLink :to="{ name: 'compare', params: { classId: klass.id } }"
        >Compare all methods, student by student</RouterLink
      >
    </p>
    <div v-if="dirty" class="row">
      <NButton type="primary" :disabled="problem !== null" @click="save"> Use this method </NButton>
      <NButton quaternary @click="form.showTheirs()">Keep it as it is</NButton>
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
