<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { EntryOut, StudentAtTaskOut } from '@/api/schema'
import { dayAndTime } from '@/design/format'
import Confirm from '@/design/telling/Confirm.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'
import WorkForm from '@/shared/work/WorkForm.vue'

/** Other evidence of one student: the entries, each with its time, and what was seen in one. */
const props = defineProps<{
  taskId: number
  student: StudentAtTaskOut
  entries: EntryOut[]
  /** Which of them is open, from 1; one more than there are is a new one. */
  at: number
}>()
const emit = defineEmits<{ open: [number: number]; saved: []; leave: [] }>()
const { timeZone } = useSession()
const here = computed(() => props.entries.find((one) => one.number === props.at))
/** What is typed of a new entry stays in sight when a choice has begun it meanwhile. */
const changing = ref(!here.value)
const deleting = ref(false)
const { problem, send } = useSending()
watch(
  () => [props.student.id, props.at],
  () => (changing.value = !here.value),
)
const last = computed(() => props.at === props.entries.length)

function saved() {
  changing.value = false
  emit('saved')
}

function cancel() {
  if (here.value) changing.value = false
  else if (props.entries.length) emit('open', props.entries.length)
}

async function remove() {
  deleting.value = false
  const path = { task_id: props.taskId, student_id: props.student.id, entry: props.at }
  const done = await send(() =>
    ask(
      api.DELETE('/api/tasks/{task_id}/students/{student_id}/entries/{entry}', {
        params: { path },
      }),
    ),
  )
  if (!done) return
  say('The entry is deleted')
  emit('open', Math.max(1, props.at - 1))
  emit('saved')
}
</script>

<template>
  <div class="entries">
    <div class="row chips" role="group" aria-label="Entries">
      <button
        v-for="one in entries"
        :key="one.number"
        type="button"
        :aria-current="one.number === at ? 'true' : undefined"
        @click="emit('open', one.number)"
      >
        {{ dayAndTime(one.done_at, timeZone) }}
        <span v-if="!one.finished" class="clay small">{{
          one.begun ? 'not finished' : 'to mark'
        }}</span>
      </button>
      <button v-if="!here && entries.length" type="button" aria-current="true">New entry</button>
      <NButton v-if="here" @click="emit('open', entries.length + 1)"
        >New entry <kbd>E</kbd></NButton
      >
    </div>
    <FormProblem :problem="problem" />
    <WorkForm
      v-if="changing"
      :key="`${student.id} ${at}`"
      :task-id="taskId"
      :student="student"
      :entry="{ number: at, doneAt: here?.done_at ?? null }"
      @done="saved"
      @cancel="cancel"
      @keydown.esc="$emit('leave')"
    />
    <div v-else-if="here" class="row small">
      <NButton size="small" quaternary @click="changing = true">Change the entry</NButton>
      <NButton v-if="last && !here.begun" size="small" quaternary @click="deleting = true"
        >Delete the entry</NButton
      >
    </div>
    <Confirm
      :show="deleting"
      title="Delete this entry?"
      action="Delete it"
      keep="Keep it"
      @confirm="remove"
      @cancel="deleting = false"
      >What you wrote of {{ student.name }}, and its files, go with it.</Confirm
    >
  </div>
</template>

<style scoped>
.entries {
  display: grid;
  gap: 8px;
  margin: 8px 0 12px;
}
.chips {
  flex-wrap: wrap;
  gap: 6px;
}
.chips > button:not(.n-button) {
  font: inherit;
  font-size: 13px;
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  padding: 4px 10px;
  cursor: pointer;
}
.chips > button[aria-current='true'] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
  font-weight: 700;
}
@media (pointer: coarse) {
  .chips > button {
    min-height: 44px;
  }
}
</style>
