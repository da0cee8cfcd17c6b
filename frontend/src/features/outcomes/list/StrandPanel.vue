<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { StrandOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useRefresh } from '@/shared/queries'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'

/** A strand's title, and the strand that it is within; a new one, or one there is. */
const props = defineProps<{ strand: StrandOut | null; strands: StrandOut[] }>()
const emit = defineEmits<{ done: [] }>()
const { problem, busy, send } = useSending(useRefresh().outcomes)
const form = useDraft('strand', () => ({
  id: props.strand?.id ?? 'new',
  version: 0,
  body: { title: props.strand?.title ?? '', parent_id: props.strand?.parent_id ?? null },
}))
const body = form.body
const holds = computed(() => props.strands.some((one) => one.parent_id === props.strand?.id))
const parents = computed(() =>
  props.strands.filter((one) => one.parent_id === null && one.id !== props.strand?.id),
)

async function save() {
  const done = await send(async () => {
    const id =
      props.strand?.id ?? (await ask(api.POST('/api/strands', { body: { title: body.title } }))).id
    if (props.strand || body.parent_id !== null) {
      await ask(
        api.PUT('/api/strands/{strand_id}', {
          params: { path: { strand_id: id } },
          body: { ...body },
        }),
      )
    }
    form.saved()
  })
  if (!done) return
  say(props.strand ? 'Saved' : `The strand ${body.title} is added`)
  emit('done')
}
</script>

<template>
  <form v-opens="strand?.id ?? 'new'" novalidate @submit.prevent="save">
    <div class="row head">
      <h2>{{ strand ? 'The strand' : 'New strand' }}</h2>
      <NButton class="push" quaternary @click="emit('done')">Close</NButton>
    </div>
    <FormProblem :problem="problem" :draft="form" />
    <TextField v-model="body.title" label="Title of the strand" :error="problem?.at('title')" />
    <SelectField
      v-if="parents.length && !holds"
      v-model="body.parent_id"
      label="Within"
      :error="problem?.at('parent_id')"
    >
      <option :value="null">no other strand</option>
      <option v-for="one in parents" :key="one.id" :value="one.id">{{ one.title }}</option>
    </SelectField>
    <p v-else-if="holds" class="small quiet">It holds other strands, so it is within none.</p>
    <NButton type="primary" attr-type="submit" :disabled="busy">
      {{ strand ? 'Save' : 'Add' }}
    </NButton>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
</style>
