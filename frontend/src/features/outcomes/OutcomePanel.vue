<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type {
  ClassOut,
  MethodIn,
  MethodPreviewOut,
  OutcomeOut,
  ScaleOut,
  StrandOut,
} from '@/api/schema'
import Field from '@/design/Field.vue'
import TextField from '@/design/TextField.vue'
import MethodFields from './MethodFields.vue'
import MethodPreview from './MethodPreview.vue'
import { useOutcomesChanged } from './useOutcomes'

/** One outcome's words, strand, own method and minimum of evidence. */
const props = defineProps<{
  klass: ClassOut
  outcome: OutcomeOut | null
  strands: StrandOut[]
  strandId?: number | null
  scales: ScaleOut[]
}>()
const emit = defineEmits<{ done: [id?: number]; 'cut-three-quarters': [] }>()
const message = useMessage()
const changed = useOutcomesChanged(() => props.klass.id)
const problem = ref<Problem | null>(null)
const body = reactive({ code: '', title: '', description: '', strand_id: null as number | null })
const own = ref(false)
const method = reactive<Required<MethodIn>>({ kind: 'latest', newest: 60, last: 3 })
const minimum = ref<number | string>(1)

// By its version: a list that is only loaded again must not undo what is being typed.
watch(
  () => [props.outcome?.id, props.outcome?.version],
  () => {
    const { outcome } = props
    problem.value = null
    Object.assign(body, {
      code: outcome?.code ?? '',
      title: outcome?.title ?? '',
      description: outcome?.description ?? '',
      strand_id: outcome ? outcome.strand_id : (props.strandId ?? null),
    })
    own.value = Boolean(outcome?.method)
    const { kind, newest, last } = outcome?.method ?? props.klass.method
    Object.assign(method, { kind, newest, last })
    minimum.value = outcome?.minimum ?? 1
  },
  { immediate: true },
)
const path = computed(() => ({ class_id: props.klass.id, outcome_id: props.outcome?.id ?? 0 }))

const preview = ref<MethodPreviewOut | null>(null)
const asked = computed(() => ({
  method: own.value ? { ...method } : null,
  minimum: Number(minimum.value),
}))
/** Whether the method or minimum in the form is another than the one that holds. */
const methodChanged = computed(() => {
  const now = props.outcome
  if (!now) return false
  const kept = now.method && {
    kind: now.method.kind,
    newest: now.method.newest,
    last: now.method.last,
  }
  return (
    asked.value.minimum !== now.minimum ||
    JSON.stringify(asked.value.method) !== JSON.stringify(kept)
  )
})

async function look() {
  if (!props.outcome) return
  try {
    preview.value = await ask(
      api.POST('/api/classes/{class_id}/outcomes/{outcome_id}/method/preview', {
        params: { path: path.value },
        body: asked.value,
      }),
    )
  } catch {
    // What is wrong with it is told at its field when it is saved.
    preview.value = null
  }
}
watchDebounced([asked, () => props.outcome, () => props.scales], look, {
  debounce: 200,
  immediate: true,
})

async function attempt(work: () => Promise<void>) {
  problem.value = null
  try {
    await work()
  } catch (error) {
    problem.value = asProblem(error)
  }
}

const save = () =>
  attempt(async () => {
    if (!props.outcome) {
      const { id } = await ask(
        api.POST('/api/classes/{class_id}/outcomes', { params: { path: path.value }, body }),
      )
      await changed()
      message.success(`${body.code} is added`)
      emit('done', id)
      return
    }
    // The method first: it has no version, so that a refusal leaves everything as it was.
    await ask(
      api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}/method', {
        params: { path: path.value },
        body: { method: own.value ? method : null, minimum: Number(minimum.value) },
      }),
    )
    await ask(
      api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}', {
        params: { path: path.value },
        body: { ...body, version: props.outcome.version },
      }),
    )
    await changed()
    message.success('Saved')
  })

const retire = (retired: boolean) =>
  attempt(async () => {
    await ask(
      api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}/retired', {
        params: { path: path.value },
        body: { retired },
      }),
    )
    await changed()
    message.info(retired ? `${body.code} is retired; its evidence is kept` : `${body.code} is back`)
  })
</script>

<template>
  <form novalidate @submit.prevent="save">
    <div class="row head">
      <h2>{{ outcome ? outcome.code : 'New outcome' }}</h2>
      <button class="btn bare push" type="button" @click="emit('done')">Close</button>
    </div>
    <p v-if="problem && !problem.errors.some((e) => e.field)" class="notice clay" role="alert">
      {{ problem.message }}
    </p>
    <TextField
      v-model="body.code"
      label="Code"
      hint="Short, as you say it: W1"
      :error="problem?.at('code')"
      class="code"
      autofocus
    />
    <TextField
      v-model="body.title"
      label="Title"
      :error="problem?.at('title')"
      rows="2"
      placeholder="I can …"
      multiline
    />
    <TextField
      v-model="body.description"
      label="Description"
      :error="problem?.at('description')"
      rows="3"
      multiline
    />
    <Field v-slot="f" label="Strand" :error="problem?.at('strand_id')">
      <select :id="f.id" v-model="body.strand_id" class="input">
        <option :value="null">in no strand</option>
        <option v-for="strand in strands" :key="strand.id" :value="strand.id">
          {{ strand.title }}
        </option>
      </select>
    </Field>
    <template v-if="outcome">
      <div class="field">
        <label class="row own"><input v-model="own" type="checkbox" /> A method of its own</label>
        <span v-if="!own" class="small quiet">Now the class’s: {{ klass.method.name }}</span>
      </div>
      <MethodFields v-if="own" v-model="method" label="Method of this outcome" :problem="problem" />
      <TextField
        v-model="minimum"
        label="Minimum of evidence"
        hint="From so many different tasks before it counts"
        :error="problem?.at('minimum')"
        class="code"
        type="number"
        min="1"
        max="20"
      />
    </template>
    <MethodPreview
      v-if="outcome && preview && (own || methodChanged)"
      :preview="preview"
      :scales="scales"
      :dirty="methodChanged"
      @cut-three-quarters="emit('cut-three-quarters')"
    />
    <div class="row">
      <button class="btn main" type="submit">{{ outcome ? 'Save' : 'Add' }}</button>
      <button v-if="outcome" class="btn bare push" type="button" @click="retire(!outcome.retired)">
        {{ outcome.retired ? 'Bring back' : 'Retire' }}
      </button>
    </div>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.code {
  width: 110px;
}
.own {
  font-weight: 600;
}
.own input {
  width: 18px;
  height: 18px;
  accent-color: var(--ink);
}
</style>
