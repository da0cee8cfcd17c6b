<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import type { MailOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** Mail that was sent or waits, each as its receiver gets it, for administrators. */
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: keys.outbox,
  query: () => ask(api.GET('/api/outbox')),
})
const when = (iso: string) => dayAndTime(iso, timeZone.value)
function state(one: MailOut): { text: string; clay: boolean } {
  if (one.sent_at) {
    const word = data.value?.simulated ? 'kept here' : 'sent'
    return { text: `${word} ${when(one.sent_at)}`, clay: false }
  }
  if (one.gave_up_at) return { text: `given up ${when(one.gave_up_at)}`, clay: true }
  if (one.problem)
    return { text: `tried ${one.tries} times, again ${when(one.next_try_at)}`, clay: true }
  return { text: `waits until ${when(one.next_try_at)}`, clay: false }
}
usePageTitle('Outbox')
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <h1>Outbox</h1>
      <div class="actions"><NButton @click="refetch()">Look again</NButton></div>
    </div>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <Notice v-if="data.simulated" class="gap">
        No mail server is set: nothing was sent to anybody. Each message is kept here as its
        receiver would get it.
      </Notice>
      <EmptyState v-if="!data.mail.length" title="No mail yet">
        Messages to students with an e-mail stand here once they are sent.
      </EmptyState>
      <article v-for="one in data.mail" :key="one.id">
        <div class="row">
          <h2>{{ one.subject }}</h2>
          <Tag class="push" :tone="state(one).clay ? 'clay' : undefined">{{ state(one).text }}</Tag>
        </div>
        <p class="small quiet">To {{ one.address }}</p>
        <p class="text" dir="auto">{{ one.text }}</p>
        <p v-if="one.problem" class="small clay">{{ one.problem }}</p>
      </article>
    </template>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 760px;
}
.gap {
  margin-bottom: 12px;
}
article {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 14px;
  margin-bottom: 8px;
}
.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  margin-top: 6px;
}
</style>
