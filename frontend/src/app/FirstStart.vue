<script setup lang="ts">
import SelectField from '@/design/controls/SelectField.vue'
import { NButton } from 'naive-ui'
import { reactive, watchEffect } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useSending } from '@/shared/forms/useSending'
import FormProblem from '@/design/telling/FormProblem.vue'
import TextField from '@/design/controls/TextField.vue'
import Brand from './Brand.vue'
import { browserLanguage, languages } from '@/shared/order'
import { useEntering, useSession } from '@/shared/session'
import { usePageTitle } from '@/shared/pageTitle'

const router = useRouter()
const enter = useEntering()
const { data: session } = useSession()
const zones = Intl.supportedValuesOf('timeZone')
const choices = languages()
const body = reactive({
  school: '',
  language: browserLanguage(),
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
  given_name: '',
  family_name: '',
  email: '',
  password: '',
})
if (!zones.includes(body.time_zone)) zones.unshift(body.time_zone)
const { problem, busy, send } = useSending()

watchEffect(() => {
  if (session.value && !session.value.first_start) void router.replace('/')
})

const begin = () =>
  send(async () => {
    await ask(api.POST('/api/session/first-teacher', { body }))
    await enter()
    await router.push('/')
  })
usePageTitle('Welcome')
</script>

<template>
  <main class="door">
    <Brand :size="28" />
    <h1>Welcome: make the first teacher</h1>
    <p class="quiet">This is asked once. Everything stays in one file on this machine.</p>
    <form class="door-card" novalidate @submit.prevent="begin">
      <FormProblem :problem="problem" />
      <TextField v-model="body.school" label="School" :error="problem?.at('school')" />
      <SelectField
        v-model="body.language"
        label="Sort names as in"
        :error="problem?.at('language')"
      >
        <option v-for="one in choices" :key="one.code" :value="one.code">{{ one.name }}</option>
      </SelectField>
      <SelectField
        v-model="body.time_zone"
        label="Time zone of the school"
        :error="problem?.at('time_zone')"
      >
        <option v-for="zone in zones" :key="zone">{{ zone }}</option>
      </SelectField>
      <div class="two">
        <TextField
          v-model="body.given_name"
          label="Given name"
          :error="problem?.at('given_name')"
          autocomplete="given-name"
        />
        <TextField
          v-model="body.family_name"
          label="Family name"
          :error="problem?.at('family_name')"
          autocomplete="family-name"
        />
      </div>
      <TextField
        v-model="body.email"
        label="E-mail"
        :error="problem?.at('email')"
        type="email"
        autocomplete="username"
      />
      <TextField
        v-model="body.password"
        label="Password"
        hint="At least 10 characters; a few words are easiest to keep."
        :error="problem?.at('password')"
        type="password"
        autocomplete="new-password"
      />
      <NButton type="primary" attr-type="submit" :disabled="busy">Begin</NButton>
    </form>
  </main>
</template>

<style scoped>
.door-card .btn {
  width: 100%;
}
</style>
