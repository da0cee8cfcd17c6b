<script setup lang="ts">
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import type { ArrivedFileOut, TaskOut } from '@/api/schema'
import { giveUp, newKey } from '@/api/upload'
import DateField from '@/design/controls/DateField.vue'
import FilePick from '@/design/controls/FilePick.vue'
import Tag from '@/design/controls/Tag.vue'
import { vOpens } from '@/design/focus'
import { fileSize, several } from '@/design/format'
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import Progress from '@/design/telling/Progress.vue'
import UploadList from '@/shared/files/UploadList.vue'
import { useUploads } from '@/shared/files/useUploads'
import { useNameOrder } from '@/shared/order'
import { useRefresh } from '@/shared/queries'

/** Putting in the work of many: files, or an archive, each to the student whose it is. */
const props = defineProps<{ task: TaskOut }>()
const emit = defineEmits<{ done: [] }>()
const path = { params: { path: { task_id: props.task.id } } }
const { byName } = useNameOrder()
const students = computed(() => byName(props.task.where.filter((one) => !one.left_on)))
const refresh = useRefresh().tasks

interface Row extends ArrivedFileOut {
  /** Whose it is; none yet: 0. */
  student: number
  failed: string
  put: boolean
}
const rows = ref<Row[]>([])
const arrived: number[] = []
const archives = new Set<number>()
const problem = ref('')
const doneAt = ref('')
const uploads = useUploads('teacher', async (uploadId) => {
  const found = await ask(
    api.POST('/api/tasks/{task_id}/collect', { ...path, body: { upload_ids: [uploadId] } }),
  )
  arrived.push(uploadId)
  if (found.some((one) => one.entry)) archives.add(uploadId)
  rows.value.push(
    ...found.map((one) => ({
      ...one,
      // One that is likely is offered, and one of several is the teacher's to choose.
      student: one.student_ids.length === 1 ? one.student_ids[0]! : 0,
      failed: '',
      put: false,
    })),
  )
})
const doubtful = (row: Row) =>
  !row.sure && row.student !== 0 && row.student_ids.includes(row.student)
/** What says whose a file is, or that the teacher chose. */
const matchedBy = (row: Row) =>
  row.sure && row.student_ids[0] === row.student
    ? row.by_identifier
      ? 'by identifier'
      : 'by name'
    : 'by hand'
const ready = computed(() => rows.value.filter((row) => row.student && !row.problem && !row.put))
const unmatched = computed(() => rows.value.filter((row) => !row.student && !row.problem).length)
const inDoubt = computed(() => ready.value.filter(doubtful).length)
const onlyOpen = ref(false)
const shown = computed(() =>
  rows.value.filter((row) => !onlyOpen.value || !row.student || row.problem || doubtful(row)),
)

const putting = ref<number | null>(null)
const batch = newKey()

/** One after the other, so that one sees how far it is; sent twice, each is one. */
async function put() {
  problem.value = ''
  const all = ready.value
  putting.value = 0
  for (const row of all) {
    row.failed = ''
    try {
      await ask(
        api.POST('/api/tasks/{task_id}/collect/files', {
          ...path,
          body: {
            upload_id: row.upload_id,
            entry: row.entry,
            student_id: row.student,
            batch,
            done_at: doneAt.value || null,
          },
        }),
      )
      row.put = true
    } catch (error) {
      row.failed = asProblem(error).message
      if (asProblem(error).gone || asProblem(error).notMine) {
        problem.value = `${row.failed} What is put in already stays; press the button again.`
        break
      }
    }
    putting.value = (putting.value ?? 0) + 1
  }
  putting.value = null
  await refresh()
  const done = rows.value.filter((row) => row.put).length
  if (ready.value.length) return
  await end()
  say(`${several(done, 'file')} put in`, {
    work: async () => {
      await ask(api.POST('/api/tasks/{task_id}/collect/undo', { ...path, body: { batch } }))
      await refresh()
    },
    undone: `${several(done, 'file')} removed again`,
  })
  emit('done')
}

/** What arrived and was not put in goes. */
async function end() {
  const left = arrived.filter(
    (id) => archives.has(id) || rows.value.some((row) => row.upload_id === id && !row.put),
  )
  await Promise.all(left.map((id) => giveUp('teacher', id).catch(() => {})))
}

async function close() {
  await end()
  emit('done')
}
</script>

<template>
  <section v-opens class="collect" aria-label="Add work">
    <div class="row">
      <h2>Add work</h2>
      <NButton class="push" quaternary :disabled="putting !== null" @click="close">Close</NButton>
    </div>
    <p class="small quiet">
      Choose many files, or a ZIP archive. Each is matched to a student by the identifier or the
      name in its own name or its folder’s; you see it first.
    </p>
    <FilePick label="Choose files" several @pick="(_, all) => uploads.add(all)" />
    <UploadList :all="uploads.all" @cancel="uploads.cancel" @again="uploads.again" />
    <Notice v-if="problem" clay role="alert">{{ problem }}</Notice>
    <template v-if="rows.length">
      <p role="status">
        <b>{{ several(rows.length, 'file') }}</b>: {{ ready.length - inDoubt }} matched<template
          v-if="inDoubt"
          >, <b>{{ inDoubt }} in doubt</b></template
        ><template v-if="unmatched"
          >, <b class="clay">{{ unmatched }} not matched</b></template
        >
      </p>
      <NCheckbox v-if="rows.length > 8" v-model:checked="onlyOpen"
        >Show only those to look at</NCheckbox
      >
      <div class="table-scroll">
        <NTable class="list" size="small">
          <thead>
            <tr>
              <th>File</th>
              <th>Student</th>
              <th>Match</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown" :key="`${row.upload_id} ${row.entry}`">
              <td class="file">
                <span v-if="row.folder" class="quiet">{{ row.folder }}/</span>{{ row.name }}
                <span class="small quiet">{{ fileSize(row.size) }}</span>
                <p v-if="row.problem || row.failed" class="small clay" role="alert">
                  {{ row.problem || row.failed }}
                </p>
              </td>
              <td>
                <select
                  v-if="!row.problem && !row.put"
                  v-model="row.student"
                  class="input"
                  :aria-label="`Student of ${row.name}`"
                >
                  <option :value="0">leave out</option>
                  <option v-for="one in students" :key="one.id" :value="one.id">
                    {{ one.name }}
                  </option>
                </select>
                <span v-else-if="row.put">{{
                  students.find((one) => one.id === row.student)?.name
                }}</span>
              </td>
              <td>
                <Tag v-if="row.put">put in</Tag>
                <Tag v-else-if="row.problem" tone="clay">left out</Tag>
                <Tag v-else-if="!row.student" tone="clay">not matched</Tag>
                <Tag v-else-if="doubtful(row)" tone="clay">in doubt</Tag>
                <Tag v-else>{{ matchedBy(row) }}</Tag>
              </td>
            </tr>
          </tbody>
        </NTable>
      </div>
      <DateField
        v-model="doneAt"
        label="Handed in"
        hint="For all of them. Leave it empty, and the work is dated to when it was due and is not late"
        time
      />
      <div class="row" role="status">
        <NButton
          type="primary"
          :disabled="!ready.length || putting !== null || uploads.busy.value"
          @click="put"
          >Put {{ several(ready.length, 'file') }} in</NButton
        >
        <template v-if="putting !== null">
          <Progress :done="putting" :of="putting + ready.length" />
          <span class="small quiet">{{ putting }} put in, {{ ready.length }} to go</span>
        </template>
        <span v-else-if="uploads.busy.value" class="small quiet">Once all files have arrived</span>
      </div>
    </template>
  </section>
</template>

<style scoped>
.collect {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 14px 16px 16px;
  display: grid;
  gap: 10px;
  margin-bottom: 16px;
}
.file {
  overflow-wrap: anywhere;
}
</style>
