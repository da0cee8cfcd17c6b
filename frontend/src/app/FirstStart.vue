<script setup lang="ts">
import { useQueryCache } from '@pinia/colada'
import { reactive, ref, watchEffect } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, asProblem, type Problem } from '@/api/client'
import Field from '@/design/Field.vue'
import Brand from './Brand.vue'
import { sessionKey, useSession } from './session'

const router = useRouter()
const cache = useQueryCache()
const { data: session } = useSession()
const zones = Intl.supportedValuesOf('timeZone')
const body = reactive({
  school: '',
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
  given_name: '',
  family_name: '',
  email: '',
  password: '',
})
if (!zones.includes(body.time_zone)) zones.unshift(body.time_zone)
const problem = ref<Problem | null>(null)
const busy = ref(false)

watchEffect(() => {
  if (session.value && !session.value.first_start) void router.replace('/')
})

async function begin() {
  busy.value = true
  problem.value = null
  try {
    await ask(api.POST('/api/session/first-teacher', { body }))
    await cache.invalidateQueries({ key: sessionKey })
    await router.push('/')
  } catch (error) {
    problem.value = asProblem(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="door">
    <Brand :size="28" />
    <h1>Welcome: make the first teacher</h1>
    <p class="quiet">This is asked once. Everything stays in one file on this machine.</p>
    <form class="card" novalidate @submit.prevent="begin">
      <p v-if="problem && !problem.errors.some((e) => e.field)" class="notice clay" role="alert">
        {{ problem.message }}
      </p>
      <Field v-slot="f" label="School" :error="problem?.at('school')">
        <input
          :id="f.id"
          v-model="body.school"
          class="input"
          :aria-invalid="f.invalid"
          :aria-describedby="f.describedby"
        />
      </Field>
      <Field v-slot="f" label="Time zone of the school" :error="problem?.at('time_zone')">
        <select :id="f.id" v-model="body.time_zone" class="input" :aria-invalid="f.invalid">
          <option v-for="zone in zones" :key="zone">{{ zone }}</option>
        </select>
      </Field>
      <div class="two">
        <Field v-slot="f" label="Given name" :error="problem?.at('given_name')">
          <input
            :id="f.id"
            v-model="body.given_name"
            class="input"
            autocomplete="given-name"
            :aria-invalid="f.invalid"
            :aria-describedby="f.describedby"
          />
        </Field>
        <Field v-slot="f" label="Family name" :error="problem?.at('family_name')">
          <input
            :id="f.id"
            v-model="body.family_name"
            class="input"
            autocomplete="family-name"
            :aria-invalid="f.invalid"
            :aria-describedby="f.describedby"
          />
        </Field>
      </div>
      <Field v-slot="f" label="E-mail" :error="problem?.at('email')">
        <input
          :id="f.id"
          v-model="body.email"
          class="input"
          type="email"
          autocomplete="username"
          :aria-invalid="f.invalid"
          :aria-describedby="f.describedby"
        />
      </Field>
      <Field
        v-slot="f"
        label="Password"
        hint="At least 10 characters; a few words are easiest to keep."
        :error="problem?.at('password')"
      >
        <input
          :id="f.id"
          v-model="body.password"
          class="input"
          type="password"
          autocomplete="new-password"
          :aria-invalid="f.invalid"
          :aria-describedby="f.describedby"
        />
      </Field>
      <button class="btn main" type="submit" :disabled="busy">Begin</button>
    </form>
  </main>
</template>

<style scoped>
.door {
  min-height: 100vh;
  display: grid;
  justify-items: center;
  align-content: center;
  gap: 10px;
  padding: 24px 16px;
}
.card {
  width: min(100%, 460px);
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 12px;
  padding: 18px 20px;
}
.card .btn {
  width: 100%;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
