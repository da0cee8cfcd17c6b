<script setup lang="ts">
import { say } from '@/design/telling/messages'
import SelectField from '@/design/controls/SelectField.vue'
import Notice from '@/design/telling/Notice.vue'
import { watchDebounced } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type {
  ClassOut,
  LevelChangeOut,
  MethodIn,
  OutcomeOut,
  ScaleOut,
  StrandOut,
} from '@/api/schema'
import LevelChanges from '@/shared/LevelChanges.vue'
import TextField from '@/design/controls/TextField.vue'
import { several } from '@/design/format'
import MethodFields from '@/shared/methods/MethodFields.vue'
import MethodSince from '@/shared/methods/MethodSince.vue'
import { putBack } from './putBack'
import { useSending } from '@/shared/forms/useSending'
import { undoMethods } from '@/shared/methods/undoMethods'

/** What to change of several outcomes at once; what is left alone stays as it is. */
const props = defineProps<{
  klass: ClassOut
  ids: number[]
  outcomes: OutcomeOut[]
  strands: StrandOut[]
  scales: ScaleOut[]
}>()
const emit = defineEmits<{ done: []; all: [] }>()
const refresh = useRefresh().outcomes
const { problem, send } = useSending(refresh)
const changes = ref<LevelChangeOut[] | null>(null)

type Keep = 'keep'
const draft = reactive({
  method: 'keep' as Keep | 'class' | 'own',
  own: { kind: 'decaying-average', newest: 60, last: 3 } as Required<MethodIn>,
  since: null as string | null,
  minimum: '',
  scale: 'keep' as Keep | number,
  strand: 'keep' as Keep | number | null,
})

/** Only what is to change, so that the server leaves the rest. */
const body = computed(() => ({
  outcome_ids: props.ids,
  ...(draft.method === 'own' ? { method: { ...draft.own } } : {}),
  ...(draft.method === 'class' ? { method: null } : {}),
  ...(draft.method !== 'keep' && draft.since ? { method_since: draft.since } : {}),
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
  const sent = { ...body.value, ...more }
  const were = props.outcomes.filter((one) => props.ids.includes(one.id))
  const classId = props.klass.id
  let entries: number[] = []
  const done = await send(async () => {
    const put = api.PUT('/api/classes/{class_id}/outcomes/bulk', {
      params: params.value,
      body: sent,
    })
    entries = (await ask(put)).entries
  })
  if (!done) return
  const many = several(props.ids.length, 'outcome')
  const kept = ['outcome_ids', 'method', 'method_since']
  const changed = Object.keys(sent).filter((name) => !kept.includes(name))
  say(more.retired ? `${many} retired; the evidence is kept` : `${many} changed`, {
    work: async () => {
      await undoMethods(classId, entries)
      if (changed.length) await putBack(classId, were, changed)
      await refresh()
    },
    undone: `${many} as before`,
  })
  emit('done')
}
</script>

<template>
  <form novalidate @submit.prevent="change()">
    <div class="row head">
      <h2>{{ several(ids.length, 'outcome') }} chosen</h2>
      <NButton class="push" quaternary @click="emit('done')">Close</NButton>
    </div>
    <p v-if="!ids.length" class="small quiet">
      Tick the outcomes to change together, or
      <NButton class="link" text @click="emit('all')">choose all</NButton>.
    </p>
    <template v-else>
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
      <SelectField v-model="draft.method" label="Method">
        <option value="keep">as it is</option>
        <option value="class">the class’s: {{ klass.method.name }}</option>
        <option value="own">one of their own …</option>
      </SelectField>
      <MethodFields
        v-if="draft.method === 'own'"
        v-model="draft.own"
        label="Method of these outcomes"
        :problem="problem"
      />
      <MethodSince v-if="draft.method !== 'keep'" v-model="draft.since" :problem="problem" />
      <TextField
        v-model="draft.minimum"
        label="Minimum of evidence"
        :error="problem?.at('minimum')"
        short
        type="number"
        min="1"
        max="20"
        placeholder="as it is"
      />
      <SelectField v-model="draft.scale" label="Scale">
        <option value="keep">as it is</option>
        <option v-for="one in scales" :key="one.id" :value="one.id">{{ one.name }}</option>
      </SelectField>
      <SelectField v-model="draft.strand" label="Strand">
        <option value="keep">as it is</option>
        <option :value="null">in no strand</option>
        <option v-for="one in strands" :key="one.id" :value="one.id">{{ one.title }}</option>
      </SelectField>
      <LevelChanges v-if="changes" :changes="changes" :scales="scales" />
      <div class="row">
        <NButton type="primary" attr-type="submit" :disabled="!something">Change them</NButton>
        <NButton class="push" quaternary @click="change({ retired: true })"> Retire them </NButton>
      </div>
    </template>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
</style>
