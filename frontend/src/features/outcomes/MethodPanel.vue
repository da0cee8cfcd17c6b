<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ClassOut, MethodIn, MethodPreviewOut, ScaleOut } from '@/api/schema'
import MethodFields from './MethodFields.vue'
import MethodPreview from './MethodPreview.vue'
import { useOutcomesChanged } from './useOutcomes'

/** The class's method: what a change means, whose level it changes, then the change. */
const props = defineProps<{ klass: ClassOut; scales: ScaleOut[] }>()
const emit = defineEmits<{ 'cut-three-quarters': [] }>()
const message = useMessage()
const changed = useOutcomesChanged(() => props.klass.id)
const method = reactive<Required<MethodIn>>({ kind: 'latest', newest: 60, last: 3 })
const preview = ref<MethodPreviewOut | null>(null)
const problem = ref<Problem | null>(null)

// By its version: a class that is only loaded again must not undo what is being chosen.
watch(
  () => [props.klass.id, props.klass.version],
  () => {
    const { kind, newest, last } = props.klass.method
    Object.assign(method, { kind, newest, last })
  },
  { immediate: true },
)
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
  try {
    await ask(
      api.PUT('/api/classes/{class_id}/method', {
        params: { path: path.value },
        body: { method, version: props.klass.version },
      }),
    )
    await changed()
    message.success('The method is changed; no evidence was touched')
    await look()
  } catch (error) {
    problem.value = asProblem(error)
  }
}
</script>

<template>
  <section>
    <h2>How mastery is worked out</h2>
    <MethodFields v-model="method" label="Method of the class" :problem="problem" />
    <p v-if="problem && !problem.errors.some((e) => e.field)" class="notice clay" role="alert">
      {{ problem.message }}
    </p>
    <MethodPreview
      v-if="preview"
      :preview="preview"
      :scales="scales"
      :dirty="dirty"
      @cut-three-quarters="emit('cut-three-quarters')"
    />
    <div v-if="dirty" class="row">
      <button class="btn main" type="button" :disabled="problem !== null" @click="save">
        Use this method
      </button>
      <button class="btn bare" type="button" @click="Object.assign(method, klass.method)">
        Keep it as it is
      </button>
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
