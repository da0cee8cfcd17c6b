<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { JoiningOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { useEntering, useSession } from '@/shared/session'
import Brand from './Brand.vue'

/** Setting one's password by the link that was handed on, or by the code of a slip. */
const route = useRoute()
const router = useRouter()
const enter = useEntering()
const { data: session } = useSession()
/** The secret of the link, or the code as it is typed. */
const token = ref(route.hash.slice(1))
const invited = ref<JoiningOut | null>(null)
const name = computed(() => invited.value?.name ?? '')
const lost = ref<Problem | null>(null)
const password = ref('')
const signInName = ref('')
const ownDevice = ref(false)
const { problem, busy, send } = useSending()

async function look() {
  lost.value = null
  try {
    invited.value = await ask(api.POST('/api/session/invited', { body: { token: token.value } }))
  } catch (error) {
    lost.value = asProblem(error)
  }
}
onMounted(() => token.value && look())

const join = () =>
  send(async () => {
    await ask(
      api.POST('/api/session/join', {
        body: {
          token: token.value,
          password: password.value,
          sign_in_name: signInName.value,
          own_device: ownDevice.value,
        },
      }),
    )
    await enter()
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
    <form v-if="!name" v-opens class="door-card" novalidate @submit.prevent="look">
      <TextField
        v-model="token"
        label="The code on your slip"
        hint="Twelve letters and digits; capitals and hyphens do not matter"
        autocomplete="off"
      />
      <NButton type="primary" attr-type="submit" :disabled="!token.trim()" block>Go on</NButton>
      <p class="small"><RouterLink :to="{ name: 'sign-in' }">Sign in instead</RouterLink></p>
    </form>
    <form v-else v-opens class="door-card" novalidate @submit.prevent="join">
      <Notice v-if="session?.person && session.person.name !== name">
        {{ session.person.name }} is signed in in this browser, and is signed out when you join.
      </Notice>
      <FormProblem :problem="problem" />
      <TextField
        v-if="invited && !invited.teacher && !invited.sign_in_name"
        v-model="signInName"
        label="A name to sign in with"
        hint="You choose it: letters, digits, dots, hyphens"
        autocomplete="username"
        :error="problem?.at('sign_in_name')"
      />
      <p v-else-if="invited?.sign_in_name">
        You sign in as <b>{{ invited.sign_in_name }}</b>.
      </p>
      <TextField
        v-model="password"
        type="password"
        label="Your password"
        hint="At least 10 characters"
        autocomplete="new-password"
        :error="problem?.at('password')"
      />
      <NCheckbox v-if="invited && !invited.teacher" v-model:checked="ownDevice"
        >This is my own device</NCheckbox
      >
      <NButton type="primary" attr-type="submit" :disabled="busy" block>Set it and sign in</NButton>
    </form>
  </main>
</template>
