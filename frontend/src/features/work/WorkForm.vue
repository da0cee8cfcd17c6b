<script setup lang="ts">
import { ref } from 'vue'
import { useSession } from '@/shared/session'
import { api, ask, form } from '@/api/client'
import type { StudentAtTaskOut } from '@/api/schema'
import FormProblem from '@/design/FormProblem.vue'
import TextField from '@/design/TextField.vue'
import { localInput } from '@/design/format'
import { useSending } from '@/shared/useSending'
import { vOpens } from '@/design/focus'

/** Entering a student's work: typed, pasted, or from a text file. */
const props = defineProps<{ taskId: number; student: StudentAtTaskOut }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
const text = ref('')
const file = ref<File | null>(null)
const handedIn = props.student.dating === 'handed-in' ? props.student.done_at : null
const doneAt = ref(localInput(handedIn, timeZone.value))
const { problem, send } = useSending()

async function save() {
  const done = await send(() =>
    ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/work', {
        params: { path: { task_id: props.taskId, student_id: props.student.id } },
        body: {} as never,
        bodySerializer: () =>
          form({ text: file.value ? '' : text.value, file: file.value, done_at: doneAt.value }),
      }),
    ),
  )
  if (done) emit('done')
}
</script>

<template>
  <form v-opens class="work" novalidate @submit.prevent="save">
    <FormProblem :problem="problem" />
    <TextField
      v-model="text"
      :label="`Work of ${student.name}`"
      :error="problem?.at('text') ?? problem?.at('file')"
      rows="6"
      :disabled="Boolean(file)"
      multiline
    />
    <div class="row parts">
      <label class="small"
        >or a text file
        <input
          type="file"
          accept=".txt,.md,text/*"
          @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null"
        />
      </label>
      <TextField
        v-model="doneAt"
        label="Handed in"
        hint="Left open, it counts from when it was due, and is not late"
        :error="problem?.at('done_at')"
        type="datetime-local"
      />
    </div>
    <div class="row">
      <button class="btn main" type="submit">Save the work</button>
      <button class="btn bare" type="button" @click="emit('cancel')">Cancel</button>
    </div>
  </form>
</template>

<style scoped>
.work {
  padding: 6px 0;
}
.parts {
  flex-wrap: wrap;
  align-items: start;
  gap: 18px;
}
</style>
