<script setup lang="ts">
import { NButton } from 'naive-ui'
import { api, ask } from '@/api/client'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'
import type { Invitation } from './InvitationLinks.vue'

/** One colleague, or a list of them; each gets a link to set a password of their own. */
const emit = defineEmits<{ done: [added: Invitation[]]; cancel: [] }>()
const { problem, busy, send } = useSending()
const nobody = () => ({ given_name: '', family_name: '', email: '' })
const form = useDraft('colleagues', () => ({
  id: 'new',
  version: 0,
  body: { people: [nobody()] },
}))

async function add() {
  let added: Invitation[] = []
  const done = await send(async () => {
    added = await ask(api.POST('/api/colleagues', { body: { people: form.body.people } }))
  })
  if (!done) return
  form.showTheirs()
  emit('done', added)
}

/** A pasted list fills as many lines as it has: given name, family name, e-mail. */
function paste(event: ClipboardEvent, at: number) {
  const lines = (event.clipboardData?.getData('text/plain') ?? '')
    .split(/\r?\n/)
    .filter((line) => line.trim())
    .map((line) => line.split(/\t|;|,/).map((cell) => cell.trim()))
  if (!lines.some((cells) => cells.length > 1)) return
  event.preventDefault()
  const pasted = lines.map(([given_name = '', family_name = '', email = '']) => ({
    given_name,
    family_name,
    email,
  }))
  form.body.people.splice(at, 1, ...pasted)
}
const error = (at: number, field: string) => problem.value?.at(`people.${at}.${field}`)
</script>

<template>
  <form v-opens class="opened" novalidate aria-label="Add colleagues" @submit.prevent="add">
    <h2>Add colleagues</h2>
    <p class="small quiet">
      They set their own password by a link that you hand on. A list can be pasted: given name,
      family name, e-mail.
    </p>
    <FormProblem :problem="problem" />
    <div v-for="(one, at) in form.body.people" :key="at" class="person" @paste="paste($event, at)">
      <TextField v-model="one.given_name" label="Given name" :error="error(at, 'given_name')" />
      <TextField v-model="one.family_name" label="Family name" :error="error(at, 'family_name')" />
      <TextField v-model="one.email" type="email" label="E-mail" :error="error(at, 'email')" />
      <NButton
        v-if="form.body.people.length > 1"
        class="out"
        quaternary
        :aria-label="`Remove line ${at + 1}`"
        @click="form.body.people.splice(at, 1)"
        >×</NButton
      >
    </div>
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy"
        >Add {{ several(form.body.people.length, 'colleague') }}</NButton
      >
      <NButton @click="form.body.people.push(nobody())">Another line</NButton>
      <NButton quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
.person {
  display: grid;
  grid-template-columns: 1fr 1fr 1.4fr 40px;
  gap: 8px;
  align-items: start;
}
.out {
  margin-top: 24px;
}
@media (max-width: 640px) {
  .person {
    grid-template-columns: 1fr;
  }
}
</style>
