<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import LinkButton from '@/design/controls/LinkButton.vue'
import TextField from '@/design/controls/TextField.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import PasswordForm from '@/shared/account/PasswordForm.vue'
import SessionList from '@/shared/account/SessionList.vue'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** One's own name, e-mail and password, and where one is signed in. */
const { data: session } = useSession()
const refresh = useRefresh().account
const { data, error, isPending, refetch } = useQuery({
  key: keys.account,
  query: () => ask(api.GET('/api/account')),
})
const { problem, send } = useSending(refresh)
const form = useDraft('own account', () => ({
  id: data.value ? 'own' : 'none',
  version: 0,
  body: {
    given_name: data.value?.given_name ?? '',
    family_name: data.value?.family_name ?? '',
    email: data.value?.email ?? '',
  },
}))

async function save() {
  const done = await send(async () => {
    await ask(api.PUT('/api/account', { body: { ...form.body } }))
    form.saved()
  })
  if (done) say('Saved')
}

const change = async (body: { current: string; password: string }) =>
  (await ask(api.PUT('/api/account/password', { body }))).removed
const end = (number: number) =>
  ask(api.DELETE('/api/account/sessions/{number}', { params: { path: { number } } }))
usePageTitle('Your account')
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <h1>Your account</h1>
      <div v-if="session?.person?.administrator" class="actions">
        <LinkButton :to="{ name: 'colleagues' }">Colleagues</LinkButton>
        <LinkButton :to="{ name: 'outbox' }">Outbox</LinkButton>
        <LinkButton :to="{ name: 'log' }">Log</LinkButton>
      </div>
    </div>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <form novalidate @submit.prevent="save">
        <FormProblem :problem="problem" :draft="form" />
        <div class="two">
          <TextField
            v-model="form.body.given_name"
            label="Given name"
            dir="auto"
            :error="problem?.at('given_name')"
          />
          <TextField
            v-model="form.body.family_name"
            label="Family name"
            dir="auto"
            :error="problem?.at('family_name')"
          />
        </div>
        <TextField
          v-model="form.body.email"
          type="email"
          label="E-mail"
          hint="You sign in with it."
          autocomplete="email"
          :error="problem?.at('email')"
        />
        <NButton type="primary" attr-type="submit">Save</NButton>
      </form>
      <PasswordForm class="part" :change="change" :refresh="refresh" />
      <SessionList :sessions="data.sessions" :end="end" :refresh="refresh" />
    </template>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 640px;
}
form,
.part {
  margin-bottom: 26px;
}
</style>
