<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import QueryState from '@/design/telling/QueryState.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import TextField from '@/design/controls/TextField.vue'
import { say } from '@/design/telling/messages'
import PasswordForm from '@/shared/account/PasswordForm.vue'
import SessionList from '@/shared/account/SessionList.vue'
import MailKinds from './MailKinds.vue'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'

/** A student's own account. */
const { data, error, isPending, refetch } = useQuery({
  key: keys.ownAccount,
  query: () => ask(api.GET('/api/my/account')),
})
const refresh = useRefresh().own
const { problem, send } = useSending(refresh)
const email = ref('')
watch(
  () => data.value?.email,
  (now) => (email.value = now ?? ''),
  { immediate: true },
)
async function save() {
  if (await send(() => ask(api.PUT('/api/my/account', { body: { email: email.value } }))))
    say('Saved')
}
const change = async (body: { current: string; password: string }) =>
  (await ask(api.PUT('/api/my/account/password', { body }))).removed
const end = (number: number) =>
  ask(api.DELETE('/api/my/account/sessions/{number}', { params: { path: { number } } }))
usePageTitle('My account')
</script>

<template>
  <div class="page narrow">
    <h1>My account</h1>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <p class="gap">
        You sign in as <b>{{ data.sign_in_name || 'nobody yet' }}</b>.
      </p>
      <form class="gap" novalidate @submit.prevent="save">
        <FormProblem :problem="problem" />
        <TextField
          v-model="email"
          label="E-mail"
          hint="If you like. No teacher can change it."
          :error="problem?.at('email')"
        />
        <NButton attr-type="submit">Save</NButton>
      </form>
      <MailKinds v-if="data.email" class="gap" />
      <PasswordForm class="gap" :change="change" :refresh="refresh" />
      <SessionList :sessions="data.sessions" :end="end" :refresh="refresh" />
    </template>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 560px;
}
h1,
.gap {
  margin-bottom: 20px;
}
</style>
