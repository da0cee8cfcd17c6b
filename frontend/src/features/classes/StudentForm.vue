<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { StudentOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { today } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'

/** What is known of a student, and whether they left the class; without one, a new one. */
const props = defineProps<{
  classId: number
  student: StudentOut | null
  columns: { field: string; label: string }[]
}>()
const emit = defineEmits<{ done: [] }>()
const { timeZone } = useSession()
const refresh = useRefresh().students
const { problem, send } = useSending(refresh)
const form = useDraft('student', () => ({
  id: props.student?.id ?? `new in ${props.classId}`,
  version: 0,
  body: {
    given_name: props.student?.given_name ?? '',
    family_name: props.student?.family_name ?? '',
    identifier: props.student?.identifier ?? '',
    email: props.student?.email ?? '',
  },
}))
const body = form.body
const shown = computed(() =>
  props.columns.filter((one) => one.field !== 'email' || !props.student?.email_hidden),
)
const path = computed(() => ({ class_id: props.classId, student_id: props.student?.id ?? 0 }))
const params = computed(() => ({ path: path.value }))
/** The first day on which they are no longer in the class, when one says that they left. */
const leftOn = ref(props.student?.until ?? today(timeZone.value))
const leaving = ref(false)

function cancel() {
  form.showTheirs()
  emit('done')
}

async function save() {
  const done = await send(async () => {
    if (props.student) {
      await ask(
        api.PUT('/api/classes/{class_id}/students/{student_id}', { params: params.value, body }),
      )
    } else {
      await ask(api.POST('/api/classes/{class_id}/students', { params: params.value, body }))
    }
    form.saved()
  })
  if (!done) return
  say(props.student ? 'Saved' : `${body.given_name} ${body.family_name} is added`)
  emit('done')
}

const setLeft = (left_on: string | null) =>
  ask(
    api.PUT('/api/classes/{class_id}/students/{student_id}/left', {
      params: params.value,
      body: { left_on },
    }),
  )

async function leave({ name, until }: StudentOut) {
  if (!(await send(() => setLeft(leftOn.value)))) return
  say(`${name} left the class; work, marks and evidence are kept`, {
    work: async () => {
      await setLeft(until)
      await refresh()
    },
    undone: until ? `${name} left when it was said before` : `${name} is in the class`,
  })
  emit('done')
}

async function comeBack({ name }: StudentOut) {
  const done = await send(() =>
    ask(api.POST('/api/classes/{class_id}/students/{student_id}/return', { params: params.value })),
  )
  if (!done) return
  say(`${name} is back in the class`)
  emit('done')
}
</script>

<template>
  <form v-opens novalidate @submit.prevent="save">
    <h2>{{ student ? student.name : 'Add a student' }}</h2>
    <FormProblem :problem="problem" :draft="form" />
    <TextField
      v-for="one in shown"
      :key="one.field"
      v-model="body[one.field as keyof typeof body]"
      :label="one.label"
      :error="problem?.at(one.field)"
      dir="auto"
    />
    <p v-if="student?.email_hidden" class="quiet small">
      Their e-mail is shown to teachers of the class that took them first, who look after it.
    </p>
    <div class="row">
      <NButton type="primary" attr-type="submit">Save</NButton>
      <NButton quaternary @click="cancel">Cancel</NButton>
    </div>
    <section v-if="student" class="leave">
      <template v-if="leaving">
        <DateField
          v-model="leftOn"
          v-opens
          label="Left on"
          hint="The first day no longer in the class. Work, marks and evidence are kept."
          :error="problem?.at('left_on')"
          :max="today(timeZone)"
          @keydown.enter.prevent="leave(student)"
        />
        <div class="row">
          <NButton @click="leave(student)">Save that they left</NButton>
          <NButton quaternary @click="leaving = false">Cancel</NButton>
        </div>
      </template>
      <div v-else class="row">
        <NButton quaternary @click="leaving = true">
          {{ student.until ? 'Change when they left' : 'Has left the class' }}
        </NButton>
        <NButton v-if="student.until" quaternary @click="comeBack(student)">
          Return to the class
        </NButton>
      </div>
    </section>
  </form>
</template>

<style scoped>
h2 {
  margin-bottom: 12px;
}
.leave {
  margin-top: 18px;
}
</style>
