<script setup lang="ts">
import DateField from '@/design/controls/DateField.vue'
import FilePick from '@/design/controls/FilePick.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { api, ask, form } from '@/api/client'
import type { StudentAtTaskOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import TextField from '@/design/controls/TextField.vue'
import { localInput } from '@/design/format'
import { say } from '@/design/telling/messages'
import { forget, keep, kept } from '@/shared/forms/typed'
import { useSending } from '@/shared/forms/useSending'
import { vOpens } from '@/design/focus'

/** Entering a student's work: typed, pasted, or from a text file. */
const props = defineProps<{ taskId: number; student: StudentAtTaskOut }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
/** What is there already, to be changed. */
const { data: there } = useQuery({
  key: () => keys.work(props.taskId, props.student.id, props.student.attempt),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}', {
        params: {
          path: {
            task_id: props.taskId,
            student_id: props.student.id,
            attempt: props.student.attempt,
          },
        },
      }),
    ),
  enabled: () => props.student.has_work,
  staleTime: 0,
})
/** What is typed over it, kept when another row is opened. */
const place = `work ${props.taskId} ${props.student.id}`
const typed = ref((kept(place)?.body as { text: string } | undefined)?.text ?? null)
watch(typed, (now) => now !== null && keep(place, { version: 0, body: { text: now } }))
const text = computed({
  get: () => typed.value ?? there.value?.parts.map((part) => part.text).join('\n\n') ?? '',
  set: (now) => (typed.value = now),
})
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
  if (!done) return
  forget(place)
  say(`The work of ${props.student.name} is saved`)
  emit('done')
}
</script>

<template>
  <form v-opens class="work" novalidate @submit.prevent="save">
    <FormProblem :problem="problem" />
    <TextField
      v-model="text"
      :label="`Work of ${student.name}`"
      :error="problem?.at('text') ?? problem?.at('file')"
      :rows="6"
      :disabled="Boolean(file)"
      multiline
    />
    <div class="row parts">
      <FilePick
        label="Take a text file"
        accept=".txt,.md,text/*"
        :chosen="file?.name"
        @pick="file = $event"
      />
      <NButton v-if="file" quaternary @click="file = null">Remove the file</NButton>
      <DateField
        v-model="doneAt"
        label="Handed in"
        hint="Leave it empty, and the work is dated to when it was due and is not late"
        :error="problem?.at('done_at')"
        time
      />
    </div>
    <div class="row">
      <NButton type="primary" attr-type="submit">Save the work</NButton>
      <NButton quaternary @click="(forget(place), emit('cancel'))">Cancel</NButton>
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
