<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, reactive } from 'vue'
import { api, ask } from '@/api/client'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import TextField from '@/design/controls/TextField.vue'
import { dayAndTime, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** One's own name, e-mail and password, and where one is signed in. */
const { data: session, timeZone } = useSession()
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

const secret = reactive({ current: '', password: '' })
const changing = useSending(refresh)
const { problem: wrong } = changing
async function changePassword() {
  let ended = 0
  const done = await changing.send(async () => {
    ended = (await ask(api.PUT('/api/account/password', { body: { ...secret } }))).removed
  })
  if (!done) return
  Object.assign(secret, { current: '', password: '' })
  const elsewhere = ended ? `; you are signed out in ${several(ended, 'other place')}` : ''
  say(`Your password is changed${elsewhere}`)
}

const ending = useSending(refresh)
async function end(number: number) {
  const done = await ending.send(() =>
    ask(api.DELETE('/api/account/sessions/{number}', { params: { path: { number } } })),
  )
  if (done) say('You are signed out there')
}
const sessions = computed(() => data.value?.sessions ?? [])
usePageTitle('Your account')
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <h1>Your account</h1>
      <div v-if="session?.person?.administrator" class="actions">
        <LinkButton :to="{ name: 'colleagues' }">Colleagues</LinkButton>
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
      <form novalidate @submit.prevent="changePassword">
        <h2>Password</h2>
        <FormProblem :problem="wrong" />
        <div class="two">
          <TextField
            v-model="secret.current"
            type="password"
            label="Present password"
            autocomplete="current-password"
            :error="wrong?.at('current')"
          />
          <TextField
            v-model="secret.password"
            type="password"
            label="New password"
            hint="At least 10 characters"
            autocomplete="new-password"
            :error="wrong?.at('password')"
          />
        </div>
        <NButton attr-type="submit">Change the password</NButton>
      </form>
      <section>
        <h2>Where you are signed in</h2>
        <ul>
          <li v-for="one in sessions" :key="one.id">
            <span class="where"
              >{{ one.device || 'A browser' }}
              <span class="quiet small">since {{ dayAndTime(one.made_at, timeZone) }}</span></span
            >
            <Tag v-if="one.this">here</Tag>
            <NButton
              v-else
              class="push"
              size="small"
              :aria-label="`Sign out of ${one.device || 'a browser'}`"
              @click="end(one.id)"
              >Sign out there</NButton
            >
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 640px;
}
form,
section {
  margin-bottom: 26px;
}
h2 {
  margin-bottom: 8px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.where {
  flex: 1 1 0;
}
li {
  display: flex;
  gap: 6px 12px;
  align-items: center;
  min-height: 44px;
  border-bottom: 1px solid var(--line);
}
</style>
