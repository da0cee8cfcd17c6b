<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQueryCache } from '@pinia/colada'
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, asProblem, type Problem } from '@/api/client'
import { tabPerson, tellTabs } from '@/api/person'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import Brand from './Brand.vue'

/** Setting one's password by the link that an administrator handed on. */
const route = useRoute()
const router = useRouter()
const cache = useQueryCache()
const { data: session } = useSession()
const token = route.hash.slice(1)
const name = ref('')
const lost = ref<Problem | null>(null)
const password = ref('')
const { problem, busy, send } = useSending()

onMounted(async () => {
  try {
    name.value = (await ask(api.POST('/api/session/invited', { body: { token } }))).name
  } catch (error) {
    lost.value = asProblem(error)
  }
})

const join = () =>
  send(async () => {
    await ask(api.POST('/api/session/join', { body: { token, password: password.value } }))
    tabPerson.value = null
    await cache.invalidateQueries({ key: keys.session })
    tellTabs(tabPerson.value)
    await router.push('/')
  })
usePageTitle('Join')
</script>

<template>
  <main class="door">
    <Brand :size="28" />
    <h1>{{ name ? `Welcome, ${name}` : 'Join' }}</h1>
    <p v-if="session?.school" class="quiet">{{ session.school }}</p>
    <Notice v-if="lost" class="door-card" clay role="alert">{{ lost.message }}</Notice>
    <form v-else-if="name" v-opens class="door-card" novalidate @submit.prevent="join">
      <Notice v-if="session?.person && session.person.name !== name">
        {{ session.person.name }} is signed in in this browser, and is signed out when you join.
      </Notice>
      <FormProblem :problem="problem" />
      <TextField
        v-model="password"
        type="password"
        label="Your password"
        hint="At least 10 characters"
        autocomplete="new-password"
        :error="problem?.at('password')"
      />
      <NButton type="primary" attr-type="submit" :disabled="busy" block>Set it and sign in</NButton>
    </form>
  </main>
</template>
