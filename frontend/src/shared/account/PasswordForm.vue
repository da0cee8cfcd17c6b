<script setup lang="ts">
import { NButton } from 'naive-ui'
import { reactive } from 'vue'
import TextField from '@/design/controls/TextField.vue'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'

/** Setting another password of one's own; `change` gives in how many places one was signed out. */
const props = defineProps<{
  change: (body: { current: string; password: string }) => Promise<number>
  refresh: () => Promise<unknown>
}>()
const secret = reactive({ current: '', password: '' })
const { problem, busy, send } = useSending(() => props.refresh())

async function save() {
  let ended = 0
  const done = await send(async () => {
    ended = await props.change({ ...secret })
  })
  if (!done) return
  Object.assign(secret, { current: '', password: '' })
  const elsewhere = ended ? `; you are signed out in ${several(ended, 'other place')}` : ''
  say(`Your password is changed${elsewhere}`)
}
</script>

<template>
  <form novalidate @submit.prevent="save">
    <h2>Password</h2>
    <FormProblem :problem="problem" />
    <div class="two">
      <TextField
        v-model="secret.current"
        type="password"
        label="Present password"
        autocomplete="current-password"
        :error="problem?.at('current')"
      />
      <TextField
        v-model="secret.password"
        type="password"
        label="New password"
        hint="At least 10 characters"
        autocomplete="new-password"
        :error="problem?.at('password')"
      />
    </div>
    <NButton attr-type="submit" :disabled="busy">Change the password</NButton>
  </form>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
}
</style>
