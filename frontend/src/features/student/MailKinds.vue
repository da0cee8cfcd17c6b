<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import type { MessageKind } from '@/api/schema'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** Which messages come as mail, too; in the application they all are. */
const WORDS: Partial<Record<MessageKind, string>> = {
  reminder: 'Reminders and messages of my teachers',
  'handed-back': 'That my work was handed back',
  attempt: 'Whether another attempt is open',
}
const { data } = useQuery({
  key: keys.ownKinds,
  query: () => ask(api.GET('/api/my/messages/kinds')),
})
const { data: session } = useSession()
const { send } = useSending(useRefresh().own)
const change = (kind: MessageKind, mail: boolean) =>
  send(() => ask(api.PUT('/api/my/messages/kinds', { body: { kind, mail } })))
</script>

<template>
  <section v-if="data">
    <h2>By mail, too</h2>
    <p v-if="session?.mail_simulated" class="small quiet">
      Your school sends no mail yet: your messages stand here alone.
    </p>
    <p v-for="one in data" :key="one.kind">
      <NCheckbox :checked="one.mail" @update:checked="change(one.kind, $event)">{{
        WORDS[one.kind]
      }}</NCheckbox>
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
}
p {
  padding: 5px 0;
}
</style>
