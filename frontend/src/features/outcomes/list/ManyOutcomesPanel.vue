<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type { ClassOut, LevelChangeOut, MethodIn, ScaleOut, StrandOut } from '@/api/schema'
import Field from '@/design/Field.vue'
import LevelChanges from '@/shared/LevelChanges.vue'
import TextField from '@/design/TextField.vue'
import { several } from '@/design/format'
import MethodFields from '@/features/outcomes/MethodFields.vue'
import { useSending } from '@/shared/useSending'

/** What to change of several outcomes at once; what is left alone stays as it is. */
const props = defineProps<{
  klass: ClassOut
  ids: number[]
  strands: StrandOut[]
  scales: ScaleOut[]
}>()
const emit = defineEmits<{ done: []; all: [] }>()
const message = useMessage()
const { problem, send } = useSending(useRefresh().outcomes)
const changes = ref<LevelChangeOut[] | null>(null)

type Keep = 'keep'
const draft = reactive({
  method: 'keep' as Keep | 'class' | 'own',
  own: { kind: 'decaying-average', newest: 60, last: 3 } as Required<MethodIn>,
  minimum: '',
  scale: 'keep' as Keep | number,
  strand: 'keep' as Keep | number | null,
})

/** Only what is to change, so that the server leaves the rest. */
const body = computed(() => ({
  outcome_ids: props.ids,
  ...(draft.method === 'own' ? { method: { ...draft.own } } : {}),
  ...(draft.method === 'class' ? { method: null } : {}),
  ...(String(draft.minimum).trim() ? { minimum: Number(draft.minimum) } : {}),
  ...(draft.scale === 'keep' ? {} : { scale_id: draft.scale }),
  ...(draft.strand === 'keep' ? {} : { strand_id: draft.strand }),
}))
const something = computed(() => Object.keys(body.value).length > 1)
const params = computed(() => ({ path: { class_id: props.klass.id } }))

async function look() {
  changes.value = null
  if (!props.ids.length || !something.value) return
  try {
    changes.value = await ask(
      api.POST('/api/classes/{class_id}/outcomes/bulk/preview', {
        params: params.value,
        body: body.value,
      }),
    )
    problem.value = null
  } catch (error) {
    problem.value = asProblem(error)
  }
}
watchDebounced(body, look, { debounce: 250, deep: true })

async function change(more: { retired?: boolean } = {}) {
  const done = await send(() =>
    ask(
      api.PUT('/api/classes/{class_id}/outcomes/bulk', {
        params: params.value,
        body: { ...body.value, ...more },
      }),
    ),
  )
  if (!done) return
  message.success(`${several(props.ids.length, 'outcome')} changed`)
  emit('done')
}
</script>

<template>
  <form novalidate @submit.prevent="change()">
    <div class="row head">
      <h2>{{ several(ids.length, 'outcome') }} chosen</h2>
      <button class="btn bare push" type="button" @click="emit('done')">Close</button>
    </div>
    <p v-if="!ids.length" class="small quiet">
      Tick the outcomes to change together, or
      <button class="link" type="button" @click="emit('all')">choose all</button>.
    </p>
    <template v-else>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <Field v-slot="f" label="Method">
        <select :id="f.id" v-model="draft.method" class="input">
          <option value="keep">as it is</option>
          <option value="class">the class’s: {{ klass.method.name }}</option>
          <option value="own">one of their own …</option>
        </select>
      </Field>
      <MethodFields
        v-if="draft.method === 'own'"
        v-model="draft.own"
        label="Method of these outcomes"
        :problem="problem"
      />
      <TextField
        v-model="draft.minimum"
        label="Minimum of evidence"
        :error="problem?.at('minimum')"
        class="short"
        type="number"
        min="1"
        max="20"
        placeholder="as it is"
      />
      <Field v-slot="f" label="Scale">
        <select :id="f.id" v-model="draft.scale" class="input">
          <option value="keep">as it is</option>
          <option v-for="one in scales" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
      </Field>
      <Field v-slot="f" label="Strand">
        <select :id="f.id" v-model="draft.strand" class="input">
          <option value="keep">as it is</option>
          <option :value="null">in no strand</option>
          <option v-for="one in strands" :key="one.id" :value="one.id">{{ one.title }}</option>
        </select>
      </Field>
      <LevelChanges v-if="changes" :changes="changes" :scales="scales" />
      <div class="row">
        <button class="btn main" type="submit" :disabled="!something">Change them</button>
        <button class="btn bare push" type="button" @click="change({ retired: true })">
          Retire them
        </button>
      </div>
    </template>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.short {
  width: 110px;
}
</style>
