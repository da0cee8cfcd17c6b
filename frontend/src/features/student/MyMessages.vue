<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { dayAndTime } from '@/design/format'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** What a student was told and has not put away yet, and the rest on request. */
const { timeZone } = useSession()
const { data } = useQuery({
  key: keys.ownMessages,
  query: () => ask(api.GET('/api/my/messages')),
})
// That something was handed back stands among the work already.
const told = computed(() => (data.value ?? []).filter((one) => one.kind !== 'handed-back'))
const fresh = computed(() => told.value.filter((one) => !one.seen_at))
const older = computed(() => told.value.filter((one) => one.seen_at))
const { send } = useSending(useRefresh().own)
const see = (number: number) =>
  send(() => ask(api.POST('/api/my/messages/{number}/seen', { params: { path: { number } } })))
</script>

<template>
  <section v-if="told.length" aria-labelledby="messages">
    <h2 id="messages">Messages</h2>
    <article v-for="one in fresh" :key="one.id" class="card">
      <h3>
        <RouterLink :to="one.path">{{ one.subject }}</RouterLink>
      </h3>
      <p class="text" dir="auto">{{ one.text }}</p>
      <p class="row small quiet">
        {{ one.sender }} · {{ dayAndTime(one.at, timeZone) }}
        <NButton class="push" size="small" :aria-label="`Read: ${one.subject}`" @click="see(one.id)"
          >Read</NButton
        >
      </p>
    </article>
    <details v-if="older.length" class="small">
      <summary>{{ older.length }} read</summary>
      <article v-for="one in older" :key="one.id" class="card">
        <b>{{ one.subject }}</b>
        <p class="text" dir="auto">{{ one.text }}</p>
        <p class="quiet">{{ one.sender }} · {{ dayAndTime(one.at, timeZone) }}</p>
      </article>
    </details>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 20px;
  break-inside: avoid;
}
h2 {
  margin-bottom: 8px;
}
.card {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 14px;
  margin-bottom: 8px;
}
.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  margin: 4px 0;
}
summary {
  cursor: pointer;
  padding: 6px 0;
}
</style>
