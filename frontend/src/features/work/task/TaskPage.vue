<script setup lang="ts">
import KindTag from '@/shared/KindTag.vue'
import Notice from '@/design/telling/Notice.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useNobody } from '@/shared/classes'
import { useNameOrder } from '@/shared/order'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import Menu from '@/design/controls/Menu.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { several } from '@/design/format'
import MessageForm from './forms/MessageForm.vue'
import SentMessages from './SentMessages.vue'
import HandBack from './forms/HandBack.vue'
import { useHandingBack } from './useHandingBack'
import TaskForm from '@/features/work/form/TaskForm.vue'
import Confirm from '@/design/telling/Confirm.vue'
import TaskStudents from './list/TaskStudents.vue'
import TimesForm from './forms/TimesForm.vue'
import OwnTimesForm from './forms/OwnTimesForm.vue'
import AnotherForm from './forms/AnotherForm.vue'
import CollectForm from './forms/CollectForm.vue'
import CopyForm from './forms/CopyForm.vue'
import { asSent } from '@/features/work/form/taskWords'
import { say } from '@/design/telling/messages'
import SetAsideForm from './forms/SetAsideForm.vue'
import StateBar from './list/StateBar.vue'
import TaskFacts from './TaskFacts.vue'
import TaskFiles from './TaskFiles.vue'
import { ORDERS } from './list/groups'
import { useDeleting } from './useDeleting'
import { useExcusing } from './useExcusing'
import { useSetAside } from './useSetAside'
import { useStudentList } from './list/useStudentList'
import { exportEntries } from '@/shared/exports'
import { sheetPage } from '@/shared/sheets'
import SelectField from '@/design/controls/SelectField.vue'
import { countWords } from '@/shared/states'
import { usePageTitle } from '@/shared/pageTitle'
import { handsIn, hasEntries, isWatched } from '@/shared/kinds'

const props = defineProps<{ classId: number; taskId: number }>()
const nobody = useNobody(() => props.classId)
const router = useRouter()
const {
  data: task,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.task(props.taskId),
  query: () =>
    ask(api.GET('/api/tasks/{task_id}', { params: { path: { task_id: props.taskId } } })),
})
const back = useHandingBack(props.taskId)
/** What another page led to: it is open at once. */
const { open } = useRoute().query
const handing = ref(open === 'hand-back')
const messaging = ref(open === 'message')
const refresh = useRefresh().tasks
const { problem, send } = useSending(refresh)
/** Students hand something in, or the teacher puts it in for them. */
const handedIn = computed(() => handsIn(task.value?.kind))
const { byName } = useNameOrder()
const students = computed(() => byName(task.value?.where ?? []))
const { group, order, picked, shown, chosen, all } = useStudentList(students)
/** Those of the chosen whose work has a time that can be corrected; entries have their own. */
const dated = computed(() =>
  hasEntries(task.value?.kind) ? [] : chosen.value.filter((one) => one.dating),
)
const correcting = ref(false)
const collecting = ref(false)
const copying = ref(false)
const changing = ref(false)
const { data: parts } = useQuery({
  key: () => keys.taskParts(props.taskId),
  query: () =>
    ask(api.GET('/api/tasks/{task_id}/work', { params: { path: { task_id: props.taskId } } })),
})

/** Some have a due time of their own. */
const timing = ref(false)
async function timed() {
  timing.value = false
  picked.value = []
  await refresh()
}

async function corrected() {
  correcting.value = false
  picked.value = []
  await refresh()
}

const { excuseAll } = useExcusing(props.taskId, send, refresh)

async function excuseChosen(excused: boolean) {
  if (await excuseAll(chosen.value, excused)) picked.value = []
}

/** Something was marked that can be done again. */
const canRepeat = computed(
  () => !hasEntries(task.value?.kind) && students.value.some((one) => one.finished),
)
const another = ref(false)

const { asideOf, countAgain } = useSetAside(props.taskId, send)
const asideOfChosen = computed(() => picked.value.filter((id) => asideOf(id)))
const settingAside = ref(false)
async function countChosen() {
  if (await countAgain(asideOfChosen.value)) picked.value = []
}

/** Nobody has work or a mark on it. */
const untouched = computed(() => !task.value?.where.some((one) => one.dating))
const deleting = ref(false)
const more = computed(() => [
  ...(students.value.length
    ? [{ text: 'Message', act: () => (messaging.value = !messaging.value) }]
    : []),
  ...(canRepeat.value
    ? [{ text: 'Another attempt', act: () => (another.value = !another.value) }]
    : []),
  {
    text: 'Print or CSV of the marks',
    act: () => router.push(sheetPage('marks', props.classId, props.taskId)),
  },
  ...exportEntries({ taskId: props.taskId }).map((one) => ({
    ...one,
    text: `Export: ${one.text}`,
  })),
  ...(parts.value?.length
    ? [
        {
          text: 'Download all work (ZIP)',
          act: () => download(`/api/tasks/${props.taskId}/archive`),
        },
      ]
    : []),
  { text: 'Copy', act: () => (copying.value = !copying.value) },
  ...(untouched.value ? [{ text: 'Delete this task', act: askOrRemove }] : []),
])

function download(address: string) {
  const link = document.createElement('a')
  link.href = address
  link.download = ''
  link.click()
}

/** Without fetching anew: there is no such task any more by then. */
const removing = useSending()
const deleteTask = useDeleting(props.classId, removing.send, refresh)
const remove = () => task.value && deleteTask(task.value)
/** A draft is set as it is. */
async function setNow() {
  const draft = task.value!
  const path = { params: { path: { task_id: draft.id } } }
  const body = { ...asSent(draft), draft: false, version: draft.version }
  const done = await send(() => ask(api.PUT('/api/tasks/{task_id}', { ...path, body })))
  if (done)
    say(`${draft.title} is set: ${several(draft.students, 'student sees', 'students see')} it now`)
}

/** What goes with the task and cannot be set again: its files, and what students have begun. */
const lost = computed(() => [
  ...(task.value?.files.length ? [several(task.value.files.length, 'file')] : []),
  ...(back.begun.value
    ? [`what ${several(back.begun.value, 'student has', 'students have')} begun`]
    : []),
])
const askOrRemove = () => (lost.value.length ? (deleting.value = true) : remove())
usePageTitle(() => task.value?.title)
</script>

<template>
  <QueryState v-if="!task" class="page" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else class="split">
    <div class="page">
      <div class="page-head">
        <h1>{{ task.title }}</h1>
        <KindTag :kind="task.kind" />
        <Tag v-if="task.practice">practice</Tag>
        <Tag v-if="task.set_at === null" tone="clay">draft</Tag>
        <div class="actions">
          <Menu label="More to do with this task" text="More" :items="more" />
          <NButton
            v-if="handedIn && task.set_at && task.where.length"
            @click="collecting = !collecting"
            >Add work</NButton
          >
          <NButton v-if="back.rows.value?.length" @click="handing = !handing">
            Hand back{{ back.ready.value ? ` ${back.ready.value}` : '' }}
          </NButton>
          <NButton v-if="task.set_at === null" type="primary" @click="setNow">Set the task</NButton>
          <LinkButton
            v-if="task.set_at && isWatched(task.kind)"
            main
            :to="{ name: 'observe', params: { classId, taskId } }"
            >Observe</LinkButton
          >
          <LinkButton
            v-if="task.set_at && task.rubric"
            :main="!isWatched(task.kind)"
            :to="{ name: 'desk', params: { classId, taskId } }"
          >
            {{ task.to_mark ? `Mark ${task.to_mark}` : 'Open the desk' }}
          </LinkButton>
        </div>
      </div>
      <p class="quiet lead">
        {{ countWords(task) }}
        <template v-if="task.rubric && task.rubric.revision < task.rubric.newest_revision">
          · by revision {{ task.rubric.revision }}:
          <RouterLink :to="{ name: 'revisions', params: { classId, rubricId: task.rubric.id } }"
            >see revision {{ task.rubric.newest_revision }}</RouterLink
          >
        </template>
      </p>
      <Notice v-if="problem ?? removing.problem.value" clay role="alert">{{
        (problem ?? removing.problem.value)!.message
      }}</Notice>
      <Confirm
        :show="deleting"
        :title="`Delete ${task.title}?`"
        action="Delete it"
        keep="Keep it"
        @confirm="((deleting = false), remove())"
        @cancel="deleting = false"
        >With it go {{ lost.join(' and ') }}; they cannot be restored.</Confirm
      >
      <HandBack
        v-if="handing && back.rows.value"
        :task="task"
        :rows="back.rows.value"
        @done="handing = false"
      />
      <MessageForm v-if="messaging" :task="task" @done="messaging = false" />
      <CopyForm v-if="copying" :class-id="classId" :task="task" @done="copying = false" />
      <CollectForm v-if="collecting" :task="task" @done="collecting = false" />
      <div v-if="task.where.length" class="row filter">
        <StateBar v-model="group" class="grow" :students="students" />
        <SelectField v-model="order" label="Sort" class="sort">
          <option v-for="one in ORDERS" :key="one.name" :value="one.name">{{ one.label }}</option>
        </SelectField>
      </div>
      <SetAsideForm
        v-if="settingAside && chosen.length"
        :task="task"
        :students="chosen"
        @done="((settingAside = false), (picked = []))"
      />
      <AnotherForm
        v-if="another"
        v-model:picked="picked"
        :task="task"
        :students="chosen"
        :rows="back.rows.value ?? []"
        @done="((another = false), (picked = []))"
      />
      <TimesForm
        v-if="correcting && dated.length"
        :key="picked.join(' ')"
        :task-id="taskId"
        :students="dated"
        :due-at="task.due_at"
        @done="corrected"
        @cancel="correcting = false"
      />
      <OwnTimesForm
        v-if="timing && chosen.length"
        :key="picked.join(' ')"
        :task="task"
        :students="chosen"
        @done="timed"
        @cancel="timing = false"
      />
      <TaskStudents
        v-model:picked="picked"
        v-model:all="all"
        :class-id="classId"
        :task="task"
        :students="shown"
        :back="back"
        :aside-of="asideOf"
        @again="((picked = [$event]), (another = true))"
      />
      <p
        v-if="chosen.length && !correcting && !timing && !another && !settingAside"
        class="row picked"
      >
        <b>{{ several(chosen.length, 'student') }} chosen</b>
        <NButton v-if="dated.length" @click="correcting = true">Correct the time</NButton>
        <NButton v-if="handedIn" @click="timing = true">Own due time</NButton>
        <NButton v-if="canRepeat" @click="another = true">Another attempt</NButton>
        <NButton v-if="chosen.some((one) => one.finished)" @click="settingAside = true"
          >Set evidence aside</NButton
        >
        <NButton v-if="asideOfChosen.length" @click="countChosen">Count it again</NButton>
        <NButton v-if="chosen.some((one) => one.state !== 'excused')" @click="excuseChosen(true)"
          >Excuse</NButton
        >
        <NButton v-if="chosen.some((one) => one.state === 'excused')" @click="excuseChosen(false)"
          >No longer excused</NButton
        >
        <NButton quaternary @click="picked = []">Choose none</NButton>
      </p>
      <Notice v-if="!task.where.length">
        {{ nobody.why.value }}.
        <RouterLink :to="{ name: 'students', params: { classId } }">{{
          nobody.coming.value ? 'See the class list' : 'Import a class list'
        }}</RouterLink>
      </Notice>
    </div>
    <aside class="side" aria-label="The task">
      <TaskForm v-if="changing" :class-id="classId" :task="task" @done="changing = false" />
      <template v-else>
        <TaskFacts :class-id="classId" :task="task" @change="changing = true" />
        <TaskFiles :task="task" />
      </template>
      <SentMessages :task-id="taskId" />
    </aside>
  </div>
</template>

<style scoped>
.lead {
  margin-bottom: 12px;
}
.filter {
  align-items: flex-end;
  gap: 16px;
  margin-bottom: 12px;
}
.grow {
  flex: 1;
  min-width: 0;
}
.sort {
  width: 150px;
  margin: 0;
}
@media (max-width: 560px) {
  .filter {
    flex-wrap: wrap;
  }
  .grow {
    flex-basis: 100%;
  }
}
.picked {
  flex-wrap: wrap;
  position: sticky;
  bottom: 0;
  padding: 10px 0;
  background: var(--paper);
  border-top: 1px solid var(--edge);
  z-index: 1;
}
</style>
