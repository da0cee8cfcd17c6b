<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { HandingBackOut, StudentAtTaskOut, TaskOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'

/** Another attempt at a task, for those who are chosen or everybody below mastery on an outcome. */
const props = defineProps<{
  task: TaskOut
  students: StudentAtTaskOut[]
  rows: HandingBackOut[]
}>()
const picked = defineModel<number[]>('picked', { required: true })
const emit = defineEmits<{ done: [] }>()
const { problem, busy, send } = useSending(useRefresh().tasks)
const words = ref('')
const due = ref('')
const carries = ref(true)
const path = { params: { path: { task_id: props.task.id } } }
const { data: who } = useQuery({
  key: () => keys.belowMastery(props.task.id),
  query: () => ask(api.GET('/api/tasks/{task_id}/who-again', path)),
  staleTime: 0,
})
const outcomes = computed(() => who.value?.below)
/** Those of the chosen of whom nothing would be asked again, and what their attempt could move. */
const allMet = computed(() =>
  carries.value
    ? props.students.filter(
        (one) =>
          who.value?.all_met.includes(one.id) &&
          !props.rows.some((row) => row.student_id === one.id && row.granted),
      )
    : [],
)
const movable = computed(() =>
  (outcomes.value ?? [])
    .filter((one) => allMet.value.some((student) => one.student_ids.includes(student.id)))
    .map((one) => one.code || one.title),
)
const names = computed(() => props.students.map((one) => one.name))
/** Those of the chosen for whom one is open already: nothing changes for them. */
const opened = computed(
  () => props.rows.filter((one) => one.granted && picked.value.includes(one.student_id)).length,
)
const count = computed(() => props.students.length - opened.value)

async function save() {
  const body = {
    student_ids: props.students.map((one) => one.id),
    words: words.value,
    due_at: due.value || null,
    carries: carries.value,
  }
  const many = count.value
  const done = await send(() => ask(api.POST('/api/tasks/{task_id}/attempts', { ...path, body })))
  if (!done) return
  say(`Another attempt is open for ${several(many, 'student')}`)
  emit('done')
}
</script>

<template>
  <form v-opens class="notice" novalidate aria-label="Another attempt" @submit.prevent="save">
    <h2>Another attempt</h2>
    <div v-if="outcomes?.some((one) => one.student_ids.length)" class="row wrap">
      <span class="small quiet">Choose who is below mastery on</span>
      <template v-for="one in outcomes" :key="one.id">
        <NButton
          v-if="one.student_ids.length"
          size="small"
          :title="one.title"
          @click="picked = one.student_ids"
          >{{ one.code || one.title }} ({{ one.student_ids.length }})</NButton
        >
      </template>
    </div>
    <p>
      <template v-if="names.length">For {{ names.join(', ') }}.</template>
      <template v-else>Choose students in the list, or by an outcome.</template>
      <template v-if="opened">
        For {{ several(opened, 'of them', 'of them') }} one is open already.</template
      >
    </p>
    <FormProblem :problem="problem" />
    <TextField
      v-model="words"
      label="What to do"
      hint="A word to the students. What is asked again is added where the mark is handed back."
      multiline
      :rows="2"
      :error="problem?.at('words')"
    />
    <DateField v-model="due" label="Due, if at a time" :error="problem?.at('due_at')" time />
    <NCheckbox v-model:checked="carries">
      Carry over what was met, and ask only for the rest
    </NCheckbox>
    <p v-if="allMet.length" class="small">
      <b>Nothing is asked again of {{ allMet.map((one) => one.name).join(', ') }}:</b> every
      criterion was met.
      <template v-if="movable.length"
        >Their attempt can move {{ movable.join(', ') }} only where you mark a criterion anew;
        without carrying over, all of it is asked.</template
      >
    </p>
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy || !count">{{
        count ? `Open it for ${several(count, 'student')}` : 'Open it'
      }}</NButton>
      <NButton quaternary @click="emit('done')">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
</style>
