<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { dayAndTime, several } from '@/design/format'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** What was sent about a task. */
const props = defineProps<{ taskId: number }>()
const { data: session, timeZone } = useSession()
/** How many got it as mail, too; without a mail server nobody did. */
const byMail = (count: number) =>
  session.value?.mail_simulated
    ? count
      ? '; no mail went out, as no mail server is set'
      : ''
    : `, ${count} by mail`
const { data } = useQuery({
  key: () => keys.sentMessages(props.taskId),
  query: () =>
    ask(api.GET('/api/tasks/{task_id}/messages', { params: { path: { task_id: props.taskId } } })),
})
const reminders = computed(() => (data.value ?? []).filter((one) => one.kind === 'reminder'))
</script>

<template>
  <section v-if="reminders.length">
    <h2>Sent</h2>
    <details v-for="one in reminders" :key="one.at" class="small">
      <summary>
        {{ one.subject }}
        <span class="quiet"
          >{{ dayAndTime(one.at, timeZone) }} · {{ several(one.people, 'student') }},
          {{ one.seen }} read{{ byMail(one.mailed) }}</span
        >
      </summary>
      <p dir="auto">{{ one.text }}</p>
    </details>
  </section>
</template>

<style scoped>
section {
  margin-top: 18px;
}
summary {
  cursor: pointer;
  padding: 5px 0;
}
p {
  white-space: pre-wrap;
}
</style>
