<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { useMessage } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { useClass } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import type { StudentOut } from '@/api/schema'
import FormProblem from '@/design/FormProblem.vue'
import ImportTable from '@/shared/ImportTable.vue'
import EmptyState from '@/design/EmptyState.vue'
import TextField from '@/design/TextField.vue'
import { sendTable } from '@/shared/sendTable'
import { useSending } from '@/shared/useSending'
import QueryState from '@/design/QueryState.vue'
import { longDay, several } from '@/design/format'
import ClassSettings from './ClassSettings.vue'
import { vOpens } from '@/design/focus'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const message = useMessage()
const klass = useClass(() => props.classId)
const path = computed(() => ({ class_id: props.classId }))
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.students(props.classId),
  query: () => ask(api.GET('/api/classes/{class_id}/students', { params: { path: path.value } })),
})
const present = computed(() => (data.value ?? []).filter((one) => !one.until))
const gone = computed(() => (data.value ?? []).filter((one) => one.until))

const importing = ref(false)
const editing = ref<StudentOut | 'new' | null>(null)
const body = reactive({ given_name: '', family_name: '', identifier: '', email: '' })
const refresh = useRefresh().students
const { problem, send } = useSending(refresh)
const columns = [
  { field: 'given_name', label: 'Given name' },
  { field: 'family_name', label: 'Family name' },
  { field: 'identifier', label: 'Identifier' },
  { field: 'email', label: 'E-mail' },
]

function edit(one: StudentOut | 'new') {
  editing.value = one
  problem.value = null
  const from = one === 'new' ? null : one
  Object.assign(body, {
    given_name: from?.given_name ?? '',
    family_name: from?.family_name ?? '',
    identifier: from?.identifier ?? '',
    email: from?.email ?? '',
  })
}

async function save() {
  const one = editing.value
  if (!one) return
  const done = await send(() =>
    one === 'new'
      ? ask(api.POST('/api/classes/{class_id}/students', { params: { path: path.value }, body }))
      : ask(
          api.PUT('/api/classes/{class_id}/students/{student_id}', {
            params: { path: { ...path.value, student_id: one.id } },
            body,
          }),
        ),
  )
  if (done) editing.value = null
}

async function leave(one: StudentOut, back: boolean) {
  const params = { path: { ...path.value, student_id: one.id } }
  const done = await send(() =>
    ask(
      back
        ? api.POST('/api/classes/{class_id}/students/{student_id}/return', { params })
        : api.POST('/api/classes/{class_id}/students/{student_id}/leave', { params }),
    ),
  )
  if (!done) return
  editing.value = null
  message.info(
    back ? `${one.name} is back in the class` : `${one.name} left the class; everything is kept`,
  )
}

async function imported(added: number) {
  importing.value = false
  message.success(`${several(added, 'student')} added`)
  await refresh()
}
usePageTitle('Class list')
</script>

<template>
  <div class="split">
    <div class="page">
      <div class="page-head">
        <h1>Class list</h1>
        <span class="quiet">{{ several(present.length, 'student') }}</span>
        <div class="actions">
          <button class="btn" type="button" @click="importing = !importing">
            Import a class list
          </button>
          <button class="btn" type="button" @click="edit('new')">Add a student</button>
        </div>
      </div>
      <ImportTable
        v-if="importing"
        what="a class list"
        :columns="columns"
        :example="'Given name\tFamily name\tIdentifier\tE-mail\nEirik\tSolheim\tT920\teirik@tern.example'"
        :preview="(sent) => sendTable.students.preview(classId, sent)"
        :import-it="(sent) => sendTable.students.import(classId, sent)"
        @done="imported"
        @cancel="importing = false"
      />
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState v-if="data && !data.length && !importing" title="Nobody is in this class yet">
        Import a class list from a file, or paste it from a spreadsheet. Students who come later are
        added one by one.
        <template #steps
          ><button class="btn main" type="button" @click="importing = true">
            Import a class list
          </button></template
        >
      </EmptyState>
      <div v-if="data?.length" class="table-scroll">
        <table class="list">
          <thead>
            <tr>
              <th>Family name</th>
              <th>Given name</th>
              <th>Identifier</th>
              <th class="mail">E-mail</th>
              <th><span class="visually-hidden">Change</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in [...present, ...gone]" :key="one.id">
              <td>{{ one.family_name || '–' }}</td>
              <td>
                {{ one.given_name }}
                <span v-if="one.until" class="tag">left {{ longDay(one.until) }}</span>
              </td>
              <td class="quiet">{{ one.identifier ?? '–' }}</td>
              <td class="quiet mail">{{ one.email ?? '–' }}</td>
              <td class="num">
                <button class="link" type="button" @click="edit(one)">
                  Change<span class="visually-hidden"> {{ one.name }}</span>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
    <aside class="side" aria-label="Beside the list">
      <form v-if="editing" v-opens="editing" novalidate @submit.prevent="save">
        <h2>{{ editing === 'new' ? 'Add a student' : editing.name }}</h2>
        <FormProblem :problem="problem" />
        <TextField
          v-for="one in columns"
          :key="one.field"
          v-model="body[one.field as keyof typeof body]"
          :label="one.label"
          :error="problem?.at(one.field)"
        />
        <div class="row">
          <button class="btn main" type="submit">Save</button>
          <button class="btn bare" type="button" @click="editing = null">Cancel</button>
        </div>
        <p v-if="editing !== 'new'" class="leave small">
          <button class="link" type="button" @click="leave(editing, Boolean(editing.until))">
            {{ editing.until ? 'Return to the class' : 'Has left the class' }}
          </button>
          <span class="quiet"> Work, marks and evidence are kept.</span>
        </p>
      </form>
      <ClassSettings v-else-if="klass" :klass="klass" />
    </aside>
  </div>
</template>

<style scoped>
form h2 {
  margin-bottom: 12px;
}
.leave {
  margin-top: 18px;
}
.mail {
  overflow-wrap: anywhere;
}
@media (max-width: 520px) {
  .mail {
    display: none;
  }
}
</style>
