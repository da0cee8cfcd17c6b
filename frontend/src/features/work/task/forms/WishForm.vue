<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { HandingBackOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'

/** Granting a student another attempt, or declining it, with a word. */
const props = defineProps<{ taskId: number; row: HandingBackOut }>()
const emit = defineEmits<{ done: [] }>()
const { problem, busy, send } = useSending(useRefresh().tasks)
const answer = ref(props.row.answer ?? '')
/** Whether they ask, with words or without. */
const asks = props.row.wish !== null && props.row.granted === null

async function save(granted: boolean) {
  const done = await send(() =>
    ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/wish', {
        params: { path: { task_id: props.taskId, student_id: props.row.student_id } },
        body: { granted, answer: answer.value },
      }),
    ),
  )
  if (!done) return
  say(
    granted
      ? `Another attempt is open for ${props.row.name}`
      : `${props.row.name} reads that there is no other attempt for now`,
  )
  emit('done')
}
</script>

<template>
  <form v-opens class="opened" novalidate @submit.prevent="save(true)">
    <p v-if="asks">
      <b>{{ row.name }} asks for another attempt{{ row.wish ? ':' : '' }}</b>
      <template v-if="row.wish"> “{{ row.wish }}”</template>
    </p>
    <p v-else>
      <b>Another attempt for {{ row.name }}</b>
    </p>
    <FormProblem :problem="problem" />
    <TextField
      v-model="answer"
      label="A word to the student"
      multiline
      :rows="2"
      :error="problem?.at('answer')"
    />
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy">Open another attempt</NButton>
      <NButton v-if="asks" :disabled="busy" @click="save(false)">Not for now</NButton>
      <NButton quaternary @click="emit('done')">Cancel</NButton>
    </div>
  </form>
</template>
