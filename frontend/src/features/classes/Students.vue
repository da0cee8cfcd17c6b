<script setup lang="ts">
import HandOut from '@/shared/HandOut.vue'
import SidePanel from '@/design/controls/SidePanel.vue'
import { say } from '@/design/telling/messages'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import { useQuery } from '@pinia/colada'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { useClass } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import type { StudentOut } from '@/api/schema'
import ImportTable from '@/shared/imports/ImportTable.vue'
import EmptyState from '@/design/telling/EmptyState.vue'
import { sendTable, type Imported } from '@/shared/imports/sendTable'
import QueryState from '@/design/telling/QueryState.vue'
import TextField from '@/design/controls/TextField.vue'
import { searcher } from '@/design/search'
import { longDay, several } from '@/design/format'
import { useNameOrder } from '@/shared/order'
import StudentForm from './StudentForm.vue'
import ClassSettings from './ClassSettings.vue'
import ClassTeachers from './ClassTeachers.vue'
import NextClass from './NextClass.vue'
import { useKeys } from '@/design/keys'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const klass = useClass(() => props.classId)
const path = computed(() => ({ class_id: props.classId }))
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.students(props.classId),
  query: () => ask(api.GET('/api/classes/{class_id}/students', { params: { path: path.value } })),
})
const { byName } = useNameOrder()
const present = computed(() => byName(data.value ?? []).filter((one) => !one.until))
const gone = computed(() => byName(data.value ?? []).filter((one) => one.until))

const wanted = ref('')
const shown = computed(() => {
  const has = searcher(wanted.value)
  return [...present.value, ...gone.value].filter((one) => has(one.name, one.identifier, one.email))
})

const importing = ref(false)
const editing = ref<StudentOut | 'new' | null>(null)
const refresh = useRefresh().students
const columns = [
  { field: 'given_name', label: 'Given name' },
  { field: 'family_name', label: 'Family name' },
  { field: 'identifier', label: 'Identifier' },
  { field: 'email', label: 'E-mail' },
]

async function imported({ id, added, left_out }: Imported) {
  if (!left_out) importing.value = false
  await refresh()
  say(`${several(added, 'student')} added`, {
    work: async () => {
      await sendTable.students.undo(props.classId, id)
      await refresh()
    },
    undone: `The import of ${several(added, 'student')} is undone`,
  })
}
useKeys('Class list', [
  { keys: ['a'], does: 'Add a student', run: () => void (editing.value = 'new') },
  {
    keys: ['Escape'],
    does: 'Close what is open beside the list',
    typing: true,
    run: () => (editing.value ? void (editing.value = null) : false),
  },
])
usePageTitle('Class list')
</script>

<template>
  <div class="split">
    <div class="page">
      <div class="page-head">
        <h1>Class list</h1>
        <span class="quiet">{{ several(present.length, 'student') }}</span>
        <div class="actions">
          <HandOut v-if="data?.length" what="class-list" :class-id="classId" />
          <LinkButton
            v-if="data?.length && !klass?.set_aside"
            bare
            :to="{ name: 'slips', params: { classId } }"
            >Slips to sign in</LinkButton
          >
          <template v-if="!klass?.set_aside">
            <NButton type="primary" @click="editing = 'new'"> Add a student <kbd>A</kbd> </NButton>
            <NButton @click="importing = !importing">Import a class list</NButton>
          </template>
        </div>
      </div>
      <ImportTable
        :form="`students of ${classId}`"
        v-if="importing"
        what="a class list"
        :columns="columns"
        :example="'Given name\tFamily name\tIdentifier\tE-mail\nEirik\tSolheim\tT920\teirik@tern.example'"
        :preview="(sent) => sendTable.students.preview(classId, sent)"
        :whole="{ field: 'name', label: 'Whole name' }"
        :import-it="(sent, leave) => sendTable.students.import(classId, sent, leave)"
        @done="imported"
        @cancel="importing = false"
      />
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState v-if="data && !data.length && !importing" title="Nobody is in this class yet">
        Import a class list from a file, or paste it from a spreadsheet. Students who come later are
        added one by one.
        <template #steps
          ><NButton type="primary" @click="importing = true">
            Import a class list
          </NButton></template
        >
      </EmptyState>
      <TextField
        v-if="data && data.length > 8"
        v-model="wanted"
        bare
        class="search"
        type="search"
        label="Search the class list"
        placeholder="Search name, identifier, e-mail"
      />
      <p v-if="data?.length && !shown.length" class="quiet" role="status">
        Nobody in the class list has these words.
      </p>
      <div v-if="shown.length" class="table-scroll">
        <NTable class="list" size="small">
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
            <tr v-for="one in shown" :key="one.id">
              <td dir="auto">
                <RouterLink :to="{ name: 'student', params: { classId, studentId: one.id } }">{{
                  one.family_name || one.given_name
                }}</RouterLink>
              </td>
              <td dir="auto">
                {{ one.given_name }}
                <Tag v-if="one.until">left {{ longDay(one.until) }}</Tag>
              </td>
              <td class="quiet">{{ one.identifier ?? '–' }}</td>
              <td class="quiet mail">
                {{ one.email ?? (one.email_hidden ? 'not shown to you' : '–') }}
              </td>
              <td class="num">
                <RouterLink
                  class="view small"
                  :to="{ name: 'students-view', params: { classId, studentId: one.id } }"
                  >what they see<span class="visually-hidden">: {{ one.name }}</span></RouterLink
                >
                <NButton v-if="!klass?.set_aside" class="link" text @click="editing = one">
                  Change<span class="visually-hidden"> {{ one.name }}</span>
                </NButton>
              </td>
            </tr>
          </tbody>
        </NTable>
      </div>
    </div>
    <SidePanel label="Beside the list" :open="editing !== null" @close="editing = null">
      <StudentForm
        v-if="editing"
        :key="editing === 'new' ? 'new' : editing.id"
        :class-id="classId"
        :student="editing === 'new' ? null : editing"
        :columns="columns"
        @done="editing = null"
      />
      <template v-else-if="klass">
        <ClassSettings v-if="!klass.set_aside" :klass="klass" />
        <ClassTeachers :class-id="classId" />
        <NextClass :key="classId" :klass="klass" />
      </template>
    </SidePanel>
  </div>
</template>

<style scoped>
.mail {
  overflow-wrap: anywhere;
}
.view {
  margin-right: 14px;
}
@media (max-width: 520px) {
  .view,
  .mail {
    display: none;
  }
}
</style>
