<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useSession } from '@/shared/session'
import type { StudentAtTaskOut } from '@/api/schema'
import FormProblem from '@/design/FormProblem.vue'
import TextField from '@/design/TextField.vue'
import { localInput, several } from '@/design/format'
import { useSending } from '@/shared/useSending'
import { vOpens } from '@/design/focus'

/** Correcting when work was done, for one, several or all: what evidence is dated by. */
const props = defineProps<{ taskId: number; students: StudentAtTaskOut[]; dueAt: string | null }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
const doneAt = ref(localInput(props.students[0]?.done_at ?? props.dueAt, timeZone.value))
const { problem, send } = useSending()

async function save(done_at: string | null) {
  const student_ids = props.students.map((one) => one.id)
  const done = await send(() =>
    ask(
      api.PUT('/api/tasks/{task_id}/times', {
        params: { path: { task_id: props.taskId } },
        body: { student_ids, done_at },
      }),
    ),
  )
  if (done) emit('done')
}
</script>

<template>
  <form
    v-opens
    class="notice"
    novalidate
    aria-label="Correct the time"
    @submit.prevent="save(doneAt)"
  >
    <p>
      Evidence of {{ several(students.length, 'student') }} counts from the time the work was done.
      A correction calls nothing late.
    </p>
    <FormProblem :problem="problem" />
    <div class="row parts">
      <TextField
        v-model="doneAt"
        label="Done"
        :error="problem?.at('done_at')"
        type="datetime-local"
      />
      <button class="btn main" type="submit" :disabled="!doneAt">
        Set the time for {{ several(students.length, 'student') }}
      </button>
      <button
        v-if="students.some((one) => one.corrected)"
        class="btn"
        type="button"
        @click="save(null)"
      >
        Undo the correction
      </button>
      <button class="btn bare" type="button" @click="emit('cancel')">Cancel</button>
    </div>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 8px;
  margin: 10px 0;
}
.parts {
  align-items: end;
  flex-wrap: wrap;
}
form :deep(.field) {
  margin-bottom: 0;
}
</style>
