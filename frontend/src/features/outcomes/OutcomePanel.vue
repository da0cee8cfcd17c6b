<script setup lang="ts">
import { say } from '@/design/telling/messages'
import SelectField from '@/design/controls/SelectField.vue'
import { watchDebounced } from '@vueuse/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type { ClassOut, MethodPreviewOut, OutcomeOut, ScaleOut, StrandOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import { several } from '@/design/format'
import { useDraft } from '@/shared/forms/useDraft'
import TextField from '@/design/controls/TextField.vue'
import MethodFields from '@/shared/methods/MethodFields.vue'
import MethodSince from '@/shared/methods/MethodSince.vue'
import MethodPreview from './MethodPreview.vue'
import { useSending } from '@/shared/forms/useSending'
import { undoMethods } from '@/shared/methods/undoMethods'
import Menu from '@/design/controls/Menu.vue'
import { useSession } from '@/shared/session'
import { vOpens } from '@/design/focus'

/** One outcome's words, strand, own method and minimum of evidence. */
const props = defineProps<{
  klass: ClassOut
  outcome: OutcomeOut | null
  strands: StrandOut[]
  strandId?: number | null
  scales: ScaleOut[]
  /** It stands on the outcome's own page, not beside the list. */
  ownPage?: boolean
}>()
const emit = defineEmits<{ done: [id?: number] }>()
const refresh = useRefresh().outcomes
const { problem, send } = useSending(refresh)
const { data: session } = useSession()
const form = useDraft('outcome', () => {
  const { outcome } = props
  const { kind, newest, last } = outcome?.method ?? props.klass.method
  return {
    id: outcome?.id ?? `new in ${props.klass.id}`,
    version: outcome?.version ?? 0,
    body: {
      code: outcome?.code ?? '',
      title: outcome?.title ?? '',
      description: outcome?.description ?? '',
      strand_id: outcome ? outcome.strand_id : (props.strandId ?? null),
      own: Boolean(outcome?.method),
      method: { kind, newest, last },
      minimum: outcome?.minimum ?? 1,
      scale_id: outcome?.scale_id ?? props.klass.scale_id,
    },
  }
})
const body = form.body
const path = computed(() => ({ class_id: props.klass.id, outcome_id: props.outcome?.id ?? 0 }))

const preview = ref<MethodPreviewOut | null>(null)
const asked = computed(() => ({
  method: body.own ? { ...body.method } : null,
  minimum: Number(body.minimum),
  scale_id: body.scale_id,
}))
/** From when on another method is to hold; null: altogether. */
const since = ref<string | null>(null)
/** Whether the method in the form is another than the one that holds. */
const otherMethod = computed(() => {
  const now = props.outcome?.method
  const kept = now ? { kind: now.kind, newest: now.newest, last: now.last } : null
  return props.outcome !== null && JSON.stringify(asked.value.method) !== JSON.stringify(kept)
})
/** Whether the method, minimum or scale in the form is another than the one that holds. */
const methodChanged = computed(() => {
  const now = props.outcome
  if (!now) return false
  return (
    asked.value.minimum !== now.minimum ||
    asked.value.scale_id !== now.scale_id ||
    otherMethod.value
  )
})

async function look() {
  if (!props.outcome) return
  try {
    preview.value = await ask(
      api.POST('/api/classes/{class_id}/outcomes/{outcome_id}/rules/preview', {
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

async function save() {
  const { code, title, description, strand_id } = body
  const words = { code, title, description, strand_id }
  let made: number | undefined
  let entries: number[] = []
  // Another rule or scale may take mastery away.
  const moved = methodChanged.value
  const before = props.outcome
  const putBack = async () => {
    if (!before) return
    const { code, title, description, strand_id, minimum, scale_id } = before
    const method = before.method && {
      kind: before.method.kind,
      newest: before.method.newest,
      last: before.method.last,
    }
    const body = { code, title, description, strand_id, minimum, scale_id, method }
    await undoMethods(props.klass.id, entries)
    await refresh()
    await ask(
      api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}', {
        params: { path: path.value },
        body: { ...body, version: props.outcome?.version ?? 0 },
      }),
    )
    await refresh()
  }
  const done = await send(async () => {
    if (!props.outcome) {
      const options = { params: { path: path.value }, body: words }
      made = (await ask(api.POST('/api/classes/{class_id}/outcomes', options))).id
      form.saved()
      return
    }
    const put = api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}', {
      params: { path: path.value },
      body: {
        ...words,
        ...asked.value,
        version: form.version,
        method_since: otherMethod.value ? since.value || null : null,
      },
    })
    entries = (await ask(put)).entries
    form.saved()
  })
  if (!done) return
  since.value = null
  if (made) say(`${code} is added`)
  else say('Saved', moved ? { work: putBack, undone: `${code} is as it was` } : undefined)
  if (made) emit('done', made)
}

const setRetired = (retired: boolean) =>
  ask(
    api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}/retired', {
      params: { path: path.value },
      body: { retired },
    }),
  )

const setSchools = (schools: boolean) =>
  ask(
    api.PUT('/api/classes/{class_id}/outcomes/{outcome_id}/owner', {
      params: { path: path.value },
      body: { schools },
    }),
  )

/** Make it the school's, so that every teacher can teach it, or one's own again. */
async function share(schools: boolean) {
  const { code } = body
  if (!(await send(() => setSchools(schools)))) return
  const words = (now: boolean) =>
    now ? `${code} is the school’s: every teacher can teach it` : `${code} is your own again`
  const work = async () => {
    await setSchools(!schools)
    await refresh()
  }
  say(words(schools), { work, undone: words(!schools) })
}

async function retire(retired: boolean) {
  const { code } = body
  if (!(await send(() => setRetired(retired)))) return
  const words = (now: boolean) =>
    now ? `${code} is retired; its evidence is kept` : `${code} is taught again`
  const work = async () => {
    await setRetired(!retired)
    await refresh()
  }
  say(words(retired), { work, undone: words(!retired) })
}
</script>

<template>
  <form v-opens="!ownPage && (outcome?.id ?? 'new')" novalidate @submit.prevent="save">
    <div class="row head">
      <h2>{{ outcome ? outcome.code : 'New outcome' }}</h2>
      <RouterLink
        v-if="outcome && !ownPage"
        class="small"
        :to="{ name: 'outcome', params: { classId: klass.id, outcomeId: outcome.id } }"
        >where it is assessed</RouterLink
      >
      <NButton v-if="!ownPage" class="push" quaternary @click="emit('done')"> Close </NButton>
    </div>
    <FormProblem :problem="problem" :draft="form" />
    <p v-if="outcome?.schools" class="small quiet schools">
      The school’s: every teacher can teach it, administrators change its words.
    </p>
    <TextField
      v-model="body.code"
      label="Code"
      hint="Short, as you say it: W1"
      :error="problem?.at('code')"
      short
    />
    <TextField
      v-model="body.title"
      label="Title"
      :error="problem?.at('title')"
      :rows="2"
      placeholder="I can …"
      multiline
    />
    <TextField
      v-model="body.description"
      label="Description"
      :error="problem?.at('description')"
      :rows="3"
      multiline
    />
    <SelectField v-model="body.strand_id" label="Strand" :error="problem?.at('strand_id')">
      <option :value="null">in no strand</option>
      <option v-for="strand in strands" :key="strand.id" :value="strand.id">
        {{ strand.title }}
      </option>
    </SelectField>
    <template v-if="outcome">
      <SelectField v-model="body.scale_id" label="Scale" :error="problem?.at('scale_id')">
        <option v-for="one in scales" :key="one.id" :value="one.id">
          {{ one.name }} ({{ several(one.levels.length, 'level') }})
        </option>
      </SelectField>
      <div class="field">
        <NCheckbox class="own" v-model:checked="body.own">A method of its own</NCheckbox>
        <span v-if="!body.own" class="small quiet">Now the class’s: {{ klass.method.name }}</span>
      </div>
      <MethodFields
        v-if="body.own"
        v-model="body.method"
        label="Method of this outcome"
        :problem="problem"
      />
      <MethodSince v-if="otherMethod" v-model="since" :problem="problem" />
      <TextField
        v-model="body.minimum"
        label="Minimum of evidence"
        hint="From so many different tasks before it counts"
        :error="problem?.at('minimum')"
        short
        type="number"
        min="1"
        max="20"
      />
    </template>
    <MethodPreview
      v-if="outcome && preview && (body.own || methodChanged)"
      :preview="preview"
      :scales="scales"
      :dirty="methodChanged"
    />
    <div class="row">
      <NButton type="primary" attr-type="submit">{{ outcome ? 'Save' : 'Add' }}</NButton>
      <Menu
        v-if="outcome"
        class="push"
        :label="`More on ${outcome.code}`"
        small
        :items="[
          {
            text: outcome.retired ? 'Restore' : 'Retire',
            act: () => retire(!outcome!.retired),
          },
          ...(session?.person?.administrator
            ? [
                {
                  text: outcome.schools ? 'Make it your own again' : 'Make it the school’s',
                  act: () => share(!outcome!.schools),
                },
              ]
            : []),
        ]"
      />
    </div>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.schools {
  margin-bottom: 10px;
}
.own {
  font-weight: 600;
}
</style>
