<script setup lang="ts">
import DateField from '@/design/controls/DateField.vue'
import FilePick from '@/design/controls/FilePick.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { api, ask, form } from '@/api/client'
import type { StudentAtTaskOut } from '@/api/schema'
import Notice from '@/design/telling/Notice.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import TextField from '@/design/controls/TextField.vue'
import { localInput } from '@/design/format'
import { say } from '@/design/telling/messages'
import { forget, keep, kept } from '@/shared/forms/typed'
import { useSending } from '@/shared/forms/useSending'
import { vOpens } from '@/design/focus'
import AddLink from '@/shared/files/AddLink.vue'
import { nameOfPart, sizeOfPart } from '@/shared/files/kinds'
import UploadList from '@/shared/files/UploadList.vue'
import { useUploads } from '@/shared/files/useUploads'

/**
 * Entering a student's work: typed or pasted, and files of any kind and links. Of other evidence it is
 * what was seen, in the `entry` of that number.
 */
const props = defineProps<{
  taskId: number
  student: StudentAtTaskOut
  entry?: { number: number; doneAt: string | null }
  /** Another attempt is open: what is entered is its work, and not that of the one before. */
  further?: boolean
}>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { timeZone } = useSession()
const added = ref(false)
const attempt = props.entry?.number ?? props.student.attempt
/** What is there already, to be changed. */
const { data: there, refetch } = useQuery({
  key: () => keys.work(props.taskId, props.student.id, attempt),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}', {
        params: {
          path: { task_id: props.taskId, student_id: props.student.id, attempt },
        },
      }),
    ),
  enabled: () =>
    (props.entry ? props.entry.doneAt !== null : props.student.has_work) || added.value,
  staleTime: 0,
})
/** What is typed over it, kept when another row is opened. */
const place = `work ${props.taskId} ${props.student.id} ${props.entry?.number ?? ''}`
const typed = ref((kept(place)?.body as { text: string } | undefined)?.text ?? null)
watch(typed, (now) => now !== null && keep(place, { version: 0, body: { text: now } }))
const lastText = computed(() => there.value?.parts.find((part) => part.kind === 'text')?.text ?? '')
const textThere = computed(() => (props.further ? '' : lastText.value))
/** The text that stood there when typing began: another one that came meanwhile is not written over. */
const over = ref<string | null>(null)
const text = computed({
  get: () => typed.value ?? textThere.value,
  set: (now) => {
    over.value ??= textThere.value
    typed.value = now
  },
})
const files = computed(() =>
  props.further ? [] : (there.value?.parts.filter((part) => part.kind !== 'text') ?? []),
)
/** What the student has handed in on screen stays as it is, and keeps its time. */
const byStudent = computed(
  () => !props.further && !props.entry && !!there.value?.parts.some((part) => part.by_student),
)
const handedIn = props.student.dating === 'handed-in' ? props.student.done_at : null
/** A further attempt was not handed in when the one before was. */
const known = props.entry ? props.entry.doneAt : props.further ? null : handedIn
const before = localInput(known, timeZone.value)
const doneAt = ref(before)
/** A time that nobody changed is not sent: it keeps its seconds. */
const time = () => (doneAt.value === before ? null : doneAt.value || null)
const { problem, send } = useSending()
/** What somebody else entered meanwhile. */
const other = ref<string | null>(null)
const refresh = useRefresh().tasks

const path = { task_id: props.taskId, student_id: props.student.id }
const uploads = useUploads('teacher', async (uploadId) => {
  const body = { upload_id: uploadId, done_at: time(), entry: props.entry?.number }
  await ask(
    api.POST('/api/tasks/{task_id}/students/{student_id}/work/files', { params: { path }, body }),
  )
  await look()
})

/** Fetch what is there by now. */
async function look() {
  added.value = true
  await refetch()
  await refresh()
}

async function addLink(address: string) {
  const body = { address, done_at: time(), entry: props.entry?.number }
  await ask(
    api.POST('/api/tasks/{task_id}/students/{student_id}/work/links', { params: { path }, body }),
  )
  await look()
}

async function remove(partId: number) {
  const part = { params: { path: { part_id: partId } } }
  if (await send(() => ask(api.DELETE('/api/work-parts/{part_id}', part)))) await look()
}

async function save() {
  const done = await send(() =>
    ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/work', {
        params: { path },
        body: {} as never,
        bodySerializer: () =>
          form({
            text: text.value,
            // A form has no empty fields: a blank stands for no text.
            replaces: (over.value ?? textThere.value) || ' ',
            ...(time() && { done_at: time()! }),
            ...(props.entry && { entry: String(props.entry.number) }),
          }),
      }),
    ),
  )
  if (!done && problem.value?.stale) {
    added.value = true
    await refetch()
    other.value = over.value = textThere.value
  }
  if (!done) return
  forget(place)
  say(`${props.entry ? 'The entry' : 'The work'} of ${props.student.name} is saved`)
  emit('done')
}
</script>

<template>
  <form v-opens class="work" novalidate @submit.prevent="save">
    <FormProblem :problem="problem" />
    <p v-if="byStudent" class="quiet">
      {{ student.name }} handed this in on screen: it stays as it is, and files or links are put
      beside it.
    </p>
    <TextField
      v-else
      v-model="text"
      :label="entry ? 'What you saw' : `Work of ${student.name}`"
      :error="problem?.at('text')"
      :rows="entry ? 3 : 6"
      multiline
    />
    <p v-if="further" class="row small">
      <span class="quiet">This is the work of attempt {{ student.attempt + 1 }}.</span>
      <NButton v-if="lastText && !text" size="small" @click="text = lastText"
        >Begin with a copy of attempt {{ student.attempt }}</NButton
      >
    </p>
    <Notice v-if="other !== null" class="other"
      >Entered meanwhile: <span class="meanwhile">{{ other }}</span></Notice
    >
    <ul v-if="files.length" class="list" :aria-label="`Files of ${student.name}`">
      <li v-for="part in files" :key="part.id" class="row">
        <span>{{ nameOfPart(part) }}</span> <span class="small quiet">{{ sizeOfPart(part) }}</span>
        <span v-if="part.by_student" class="push small quiet">handed in by the student</span>
        <NButton v-else class="push" size="small" quaternary @click="remove(part.id)"
          >Remove<span class="visually-hidden"> {{ nameOfPart(part) }}</span></NButton
        >
      </li>
    </ul>
    <UploadList :all="uploads.all" @cancel="uploads.cancel" @again="uploads.again" />
    <div class="row parts">
      <FilePick label="Add files" several @pick="(_, all) => uploads.add(all)" />
      <AddLink :add="addLink" />
      <DateField
        v-if="!byStudent"
        v-model="doneAt"
        :label="entry ? 'Seen' : 'Handed in'"
        :hint="
          entry
            ? 'Leave it empty if it is now'
            : 'Leave it empty, and the work is dated to when it was due and is not late'
        "
        :error="problem?.at('done_at')"
        time
      />
    </div>
    <div class="row">
      <NButton v-if="!byStudent" type="primary" attr-type="submit" :disabled="uploads.busy.value">{{
        entry ? 'Save the entry' : 'Save the work'
      }}</NButton>
      <NButton quaternary @click="(forget(place), emit('cancel'))">{{
        added || byStudent ? 'Close' : 'Cancel'
      }}</NButton>
    </div>
  </form>
</template>

<style scoped>
.work {
  padding: 6px 0;
}
.other {
  margin-bottom: 10px;
}
.meanwhile {
  white-space: pre-wrap;
}
.list {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.parts {
  flex-wrap: wrap;
  align-items: start;
  gap: 18px;
}
</style>
