<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { StudentAtTaskOut, TaskOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import { vOpens } from '@/design/focus'
import { localInput, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'
import ChangeEffects from '@/features/work/form/ChangeEffects.vue'
import { useEffects } from '@/features/work/form/useEffects'

/** A due time of their own for some students. */
const props = defineProps<{ task: TaskOut; students: StudentAtTaskOut[] }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
const first = props.students[0]
const due = ref(localInput(first?.own_due_at ?? props.task.due_at, timeZone.value))
const { problem, busy, send } = useSending()
const { effects, seen } = useEffects()

async function save(due_at: string | null) {
  const student_ids = props.students.map((one) => one.id)
  const path = { params: { path: { task_id: props.task.id } } }
  const body = { student_ids, due_at }
  let ahead = false
  const done = await send(async () => {
    ahead = await seen(body, () =>
      ask(api.POST('/api/tasks/{task_id}/own-times/effects', { ...path, body })),
    )
    if (ahead) await ask(api.PUT('/api/tasks/{task_id}/own-times', { ...path, body }))
  })
  if (!done || !ahead) return
  const who = several(student_ids.length, 'student')
  say(due_at ? `${who}: another due time` : `${who}: due as everybody`)
  emit('done')
}
</script>

<template>
  <form
    v-opens
    class="notice"
    novalidate
    aria-label="Own due time"
    @submit.prevent="save(due || null)"
  >
    <p>
      For {{ several(students.length, 'student') }} alone: late, missing and closing go by this
      time.
    </p>
    <ChangeEffects v-if="effects" :effects="effects" />
    <FormProblem :problem="problem" />
    <div class="row parts">
      <DateField v-model="due" label="Due for them" :error="problem?.at('due_at')" time />
      <NButton type="primary" attr-type="submit" :disabled="!due || busy"
        >Set it for {{ several(students.length, 'student') }}</NButton
      >
      <NButton v-if="students.some((one) => one.own_due_at)" :disabled="busy" @click="save(null)"
        >As everybody</NButton
      >
      <NButton quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
  </form>
</template>
