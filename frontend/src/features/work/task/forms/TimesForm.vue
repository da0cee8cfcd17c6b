<script setup lang="ts">
import DateField from '@/design/controls/DateField.vue'
import { NButton } from 'naive-ui'
import { ref, shallowRef } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { api, ask, asProblem } from '@/api/client'
import { useSession } from '@/shared/session'
import type { LevelChangeOut, StudentAtTaskOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import { localInput, several } from '@/design/format'
import { say } from '@/design/telling/messages'
import LevelChanges from '@/shared/LevelChanges.vue'
import { useScales } from '@/shared/scales'
import { useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import { vOpens } from '@/design/focus'

/** Correcting when work was done, for one, several or all: what evidence is dated by. */
const props = defineProps<{ taskId: number; students: StudentAtTaskOut[]; dueAt: string | null }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
const doneAt = ref(localInput(props.students[0]?.done_at ?? props.dueAt, timeZone.value))
const { problem, send } = useSending()

/** What it would move, said first. */
const moves = shallowRef<LevelChangeOut[] | null>(null)
const { data: scales } = useScales()
watchDebounced(
  doneAt,
  async (done_at) => {
    moves.value = null
    if (!done_at) return
    const student_ids = props.students.map((one) => one.id)
    const path = { params: { path: { task_id: props.taskId } } }
    const body = { student_ids, done_at }
    try {
      const found = await ask(api.POST('/api/tasks/{task_id}/times/effects', { ...path, body }))
      if (doneAt.value === done_at) moves.value = found.classes.flatMap((one) => one.changes)
      problem.value = null
    } catch (error) {
      // What it would be refused for is told before it is sent.
      if (doneAt.value === done_at) problem.value = asProblem(error)
    }
  },
  { debounce: 300, immediate: true },
)

const refresh = useRefresh().tasks
async function save(done_at: string | null) {
  const student_ids = props.students.map((one) => one.id)
  const path = { task_id: props.taskId }
  const set = (at: string | null) =>
    ask(
      api.PUT('/api/tasks/{task_id}/times', {
        params: { path },
        body: { student_ids, done_at: at },
      }),
    )
  // What was corrected before has a time that is not known here.
  const whole = done_at !== null && props.students.every((one) => !one.corrected)
  if (!(await send(() => set(done_at)))) return
  const work = async () => {
    await set(null)
    await refresh()
  }
  const who = several(student_ids.length, 'student')
  say(
    done_at === null ? 'The correction is undone' : `The time of ${who} is corrected`,
    whole ? { work, undone: 'The times are as they were' } : undefined,
  )
  emit('done')
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
      A correction calls nothing late, and the time it had by itself is kept.
    </p>
    <FormProblem :problem="problem" />
    <LevelChanges v-if="moves && scales" :changes="moves" :scales="scales" :most="6" values />
    <div class="row parts">
      <DateField v-model="doneAt" label="Done" :error="problem?.at('done_at')" time />
      <NButton type="primary" attr-type="submit" :disabled="!doneAt">
        Set the time for {{ several(students.length, 'student') }}
      </NButton>
      <NButton v-if="students.some((one) => one.corrected)" @click="save(null)">
        Undo the correction
      </NButton>
      <NButton quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
  </form>
</template>
