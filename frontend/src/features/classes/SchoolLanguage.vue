<script setup lang="ts">
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import SelectField from '@/design/controls/SelectField.vue'
import { say } from '@/design/telling/messages'
import { languages } from '@/shared/order'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { useSending } from '@/shared/forms/useSending'

/** By which language's rules names are sorted in the whole school; the administrator says. */
const { data: session } = useSession()
const refresh = useRefresh().everything
const { problem, send } = useSending(refresh)
const choices = languages()
const set = (code: string) => ask(api.PUT('/api/school', { body: { language: code } }))
const language = computed({
  get: () => session.value?.language ?? 'en',
  set: (code) => void change(code),
})

async function change(code: string) {
  const before = language.value
  if (!(await send(() => set(code)))) return
  const nameOf = (one: string) => choices.find((choice) => choice.code === one)?.name ?? one
  say(`Names are sorted as in ${nameOf(code)}`, {
    work: async () => {
      await set(before)
      await refresh()
    },
    undone: `Names are sorted as in ${nameOf(before)}`,
  })
}
</script>

<template>
  <SelectField
    v-model="language"
    class="language"
    label="Sort names as in"
    hint="For the whole school."
    :error="problem?.message"
  >
    <option v-if="!choices.some((one) => one.code === language)" :value="language">
      {{ language }}
    </option>
    <option v-for="one in choices" :key="one.code" :value="one.code">{{ one.name }}</option>
  </SelectField>
</template>

<style scoped>
.language {
  max-width: 260px;
  margin-top: 28px;
}
</style>
