<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { StudentAtTaskOut, TaskOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'

/** Setting aside what a task is evidence of, for some students: the room was noisy. */
const props = defineProps<{ task: TaskOut; students: StudentAtTaskOut[] }>()
const emit = defineEmits<{ done: [] }>()
const { problem, busy, send } = useSending(useRefresh().tasks)
const reason = ref('')
const path = { params: { path: { task_id: props.task.id } } }

async function save() {
  const student_ids = props.students.map((one) => one.id)
  const body = { student_ids, attempt: null, outcome_ids: null, reason: reason.value }
  let pieces = 0
  const done = await send(async () => {
    const answer = await ask(api.POST('/api/tasks/{task_id}/set-aside', { ...path, body }))
    pieces = answer.added
  })
  if (!done) return
  say(`${several(pieces, 'piece')} of evidence set aside`, {
    work: () =>
      send(() =>
        ask(
          api.POST('/api/tasks/{task_id}/counted-again', {
            ...path,
            body: { student_ids, attempt: null, outcome_ids: null },
          }),
        ),
      ),
    undone: 'It counts again',
  })
  emit('done')
}
</script>

<template>
  <form v-opens class="notice" novalidate aria-label="Set evidence aside" @submit.prevent="save">
    <p>
      What this task is evidence of, for {{ several(students.length, 'student') }}: their marks and
      totals stay, and mastery is worked out without it.
    </p>
    <FormProblem :problem="problem" />
    <TextField
      v-model="reason"
      label="Why does it not count?"
      hint="It stays on record, and can count again"
      :error="problem?.at('reason')"
    />
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy"
        >Set it aside for {{ several(students.length, 'student') }}</NButton
      >
      <NButton quaternary @click="emit('done')">Cancel</NButton>
    </div>
  </form>
</template>
