<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useSending } from '@/shared/forms/useSending'
import Field from '@/design/controls/Field.vue'
import Brand from './Brand.vue'
import { useEntering, useSession } from '@/shared/session'
import { usePageTitle } from '@/shared/pageTitle'

const route = useRoute()
const router = useRouter()
const entered = useEntering()
const { data: session } = useSession()
const email = ref('')
const password = ref('')
const ownDevice = ref(false)
const { problem, busy, send } = useSending()

watchEffect(() => {
  if (session.value?.first_start) void router.replace({ name: 'first-start' })
})

const enter = (call: () => Promise<unknown>) =>
  send(async () => {
    await call()
    await goOn()
  })

/** Go on as whoever is signed in in this browser now. */
async function goOn() {
  await entered()
  const { to } = route.query
  await router.push(typeof to === 'string' && /^\/(?!\/)/.test(to) ? to : '/')
}

const signIn = () =>
  enter(() =>
    ask(
      api.POST('/api/session', {
        body: { email: email.value, password: password.value, own_device: ownDevice.value },
      }),
    ),
  )
const signInAs = (personId: number) =>
  enter(() => ask(api.POST('/api/session/demo', { body: { person_id: personId } })))
usePageTitle('Sign in')
</script>

<template>
  <main class="door">
    <Brand :size="28" />
    <h1>Sign in</h1>
    <p v-if="session?.school" class="quiet">{{ session.school }}</p>
    <Notice v-if="route.query.other" class="door-card" role="status">
      <template v-if="session?.person">
        {{ session.person.name }} is signed in in this browser now.
        <NButton @click="goOn">Go on as {{ session.person.name }}</NButton>
      </template>
      <template v-else>You signed out in another tab.</template>
      What you had marked and not sent yet is kept for you, and sent when you sign in here again.
    </Notice>
    <form class="door-card" @submit.prevent="signIn">
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
      <Field v-slot="{ id }" label="E-mail, or name to sign in with">
        <NInput
          v-model:value="email"
          :input-props="{ id, autocomplete: 'username', required: true }"
          placeholder=""
        />
      </Field>
      <Field v-slot="{ id }" label="Password">
        <NInput
          v-model:value="password"
          type="password"
          :input-props="{ id, autocomplete: 'current-password', required: true }"
          placeholder=""
        />
      </Field>
      <NCheckbox v-model:checked="ownDevice">This is my own device</NCheckbox>
      <p class="small quiet">
        Otherwise students are signed out after half an hour without doing anything.
      </p>
      <NButton type="primary" attr-type="submit" :disabled="busy" block>Sign in</NButton>
      <p class="small">
        <RouterLink :to="{ name: 'join' }">I have a slip with a code</RouterLink>
      </p>
    </form>
    <section v-if="session?.demo_people.length" class="door-card">
      <h2>Try the demo</h2>
      <p class="small quiet">A made-up school; nothing you do here can do harm.</p>
      <NButton
        v-for="person in session.demo_people"
        :key="person.id"
        :disabled="busy"
        @click="signInAs(person.id)"
      >
        Sign in as {{ person.name }}, {{ person.teacher ? 'teacher' : 'student' }}
      </NButton>
    </section>
  </main>
</template>

<style scoped>
.door-card {
  display: grid;
  gap: 8px;
}
</style>
