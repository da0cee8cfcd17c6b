<script setup lang="ts">
import { nowIso } from '@/api/clock'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { api, ask } from '@/api/client'
import { newKey } from '@/api/upload'
import type { LevelChangeOut } from '@/api/schema'
import FileLink from '@/design/controls/FileLink.vue'
import DateField from '@/design/controls/DateField.vue'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { clockOf, localInput, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Modal from '@/design/telling/Modal.vue'
import { say } from '@/design/telling/messages'
import { useClasses } from '@/shared/classes'
import { useSending } from '@/shared/forms/useSending'
import LevelChanges from '@/shared/LevelChanges.vue'
import { useNameOrder } from '@/shared/order'
import { keys, useRefresh } from '@/shared/queries'
import { canRecord } from '@/shared/recording/useRecorder'
import { useScales } from '@/shared/scales'
import { useSession } from '@/shared/session'
import NoteLevels from './NoteLevels.vue'
import NoteStudents from './NoteStudents.vue'
import { useNoteFiles } from './useNoteFiles'
import { useNoting } from './useNoting'

/** A quick note of what was seen: who, on what, how well, in a few words. */
const noting = useNoting()
const draft = noting.draft
const { timeZone } = useSession()
const { data: classes } = useClasses()
const open = computed(() => (classes.value ?? []).filter((one) => !one.set_aside))
watch(
  open,
  (all) => {
    if (!all.some((one) => one.id === draft.classId)) draft.classId = all[0]?.id ?? 0
  },
  { immediate: true },
)
const path = computed(() => ({ params: { path: { class_id: draft.classId } } }))
const { data: students } = useQuery({
  key: () => keys.students(draft.classId),
  query: () => ask(api.GET('/api/classes/{class_id}/students', path.value)),
  enabled: () => draft.classId > 0,
})
const { data: list } = useQuery({
  key: () => keys.outcomes(draft.classId),
  query: () => ask(api.GET('/api/classes/{class_id}/outcomes', path.value)),
  enabled: () => draft.classId > 0,
})
const { data: scales } = useScales()
const { byName } = useNameOrder()
const present = computed(() => byName(students.value ?? []).filter((one) => !one.until))
const outcomes = computed(() => (list.value?.outcomes ?? []).filter((one) => !one.retired))
watch(
  outcomes,
  (all) => {
    if (!all.length || all.some((one) => one.id === draft.outcomeId)) return
    const last = Number(localStorage.getItem(lastKey()))
    draft.outcomeId = (all.find((one) => one.id === last) ?? all[0]!).id
  },
  { immediate: true },
)
const lastKey = () => `jade-ladder.note.outcome.${draft.classId}`
const scale = computed(() => {
  const outcome = outcomes.value.find((one) => one.id === draft.outcomeId)
  return scales.value?.find((one) => one.id === outcome?.scale_id)
})
watch(scale, (now) => {
  if (now && draft.level !== null && draft.level >= now.levels.length) draft.level = null
})

const files = useNoteFiles()
onMounted(() => void files.load())
/** What it would move, said before it is saved. */
const moves = shallowRef<LevelChangeOut[] | null>(null)
const look = useDebounceFn(async () => {
  moves.value = null
  if (draft.level === null || !draft.studentIds.length || !draft.outcomeId) return
  const asked = JSON.stringify(draft)
  const body = { ...said(), student_ids: draft.studentIds, outcome_id: draft.outcomeId }
  try {
    const found = await ask(
      api.POST('/api/classes/{class_id}/notes/effects', { ...path.value, body }),
    )
    if (asked === JSON.stringify(draft)) moves.value = found.classes.flatMap((one) => one.changes)
  } catch {
    // What is wrong is told when it is saved.
  }
}, 300)
watch(
  () => [draft.level, draft.halfWay, draft.studentIds.length, draft.outcomeId, draft.seenAt],
  () => void look(),
  { immediate: true },
)

const said = () => ({
  level: draft.level ?? -1,
  half_way: draft.halfWay,
  words: draft.words,
  seen_at: draft.seenAt || null,
})
const { problem, busy, send } = useSending(useRefresh().marks)
/** One key for one note, however often it is sent. */
let key = newKey()
async function save() {
  const count = draft.studentIds.length
  let ids: number[] = []
  const done = await send(async () => {
    const body = { ...said(), key, student_ids: draft.studentIds, outcome_id: draft.outcomeId }
    const written = await ask(api.POST('/api/classes/{class_id}/notes', { ...path.value, body }))
    ids = written.map((one) => one.id)
  })
  if (!done) return
  if (!(await files.sendWith(ids))) return
  key = newKey()
  localStorage.setItem(lastKey(), String(draft.outcomeId))
  noting.saved()
  noting.show = false
  say(`Noted of ${several(count, 'student')}: it counts as evidence now`)
}
const changing = ref(Boolean(draft.seenAt))
function anotherTime() {
  changing.value = true
  draft.seenAt = localInput(nowIso(), timeZone.value)
}
</script>

<template>
  <Modal v-model:show="noting.show" title="Write a note" :width="600">
    <form
      v-opens
      novalidate
      aria-label="A note"
      @submit.prevent="save"
      @keydown.ctrl.enter.prevent="save"
    >
      <NoteStudents
        v-model="draft.studentIds"
        :students="present"
        :error="problem?.at('student_ids')"
      />
      <div class="two">
        <SelectField v-if="open.length > 1" v-model="draft.classId" label="Class">
          <option v-for="one in open" :key="one.id" :value="one.id">{{ one.name }}</option>
        </SelectField>
        <SelectField v-model="draft.outcomeId" label="Outcome" :error="problem?.at('outcome_id')">
          <option v-for="one in outcomes" :key="one.id" :value="one.id">
            {{ one.code }} · {{ one.title }}
          </option>
        </SelectField>
      </div>
      <p v-if="list && !outcomes.length" class="small clay">
        This class has no outcomes yet: add one first.
      </p>
      <NoteLevels
        v-if="scale"
        v-model:level="draft.level"
        v-model:half-way="draft.halfWay"
        :scale="scale"
        :error="problem?.at('level') ?? problem?.at('half_way')"
      />
      <TextField
        v-model="draft.words"
        label="What you saw"
        multiline
        :rows="2"
        :error="problem?.at('words')"
      />
      <div class="row when small">
        <template v-if="!changing">
          <span>Seen now</span>
          <NButton class="link" text @click="anotherTime">Another time …</NButton>
        </template>
        <template v-else>
          <DateField v-model="draft.seenAt" label="Seen" time :error="problem?.at('seen_at')" />
          <NButton class="link" text @click="((changing = false), (draft.seenAt = ''))"
            >Now after all</NButton
          >
        </template>
      </div>
      <ul v-if="files.ready.value.length" class="small files">
        <li v-for="one in files.ready.value" :key="one.key">
          {{ one.recording ? `Voice note, ${clockOf(one.seconds)}` : one.file.name }}
          <NButton size="tiny" quaternary @click="files.remove(one.key)">Remove</NButton>
        </li>
      </ul>
      <div class="row more">
        <template v-if="files.recorder.state.value === 'idle'">
          <NButton v-if="canRecord()" quaternary @click="files.record">Voice note</NButton>
        </template>
        <span v-else class="row small" role="group" aria-label="Recording">
          Recording {{ clockOf(files.recorder.seconds.value) }}
          <NButton type="primary" @click="files.recorder.stop()">Stop</NButton>
        </span>
        <FileLink text="Photograph" photo @files="files.add" />
      </div>
      <p v-if="files.problem.value || files.recorder.problem.value" class="small clay" role="alert">
        {{ files.problem.value || files.recorder.problem.value }}
      </p>
      <LevelChanges v-if="moves && scales" :changes="moves" :scales="scales" :most="4" values />
      <FormProblem :problem="problem" />
      <div class="row end">
        <NButton
          type="primary"
          attr-type="submit"
          size="large"
          :disabled="busy || files.recorder.state.value !== 'idle'"
          >{{
            draft.studentIds.length > 1 ? `Note of ${draft.studentIds.length} students` : 'Note it'
          }}</NButton
        >
        <span class="small quiet"><kbd>Ctrl Enter</kbd> · Students see it once you show it.</span>
      </div>
    </form>
  </Modal>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 0 14px;
}
.when {
  flex-wrap: wrap;
  gap: 4px 12px;
}
.files {
  margin: 0;
  padding-left: 18px;
}
.more {
  gap: 4px 10px;
  min-height: 44px;
}
.end {
  flex-wrap: wrap;
  position: sticky;
  bottom: -20px;
  padding: 10px 0;
  background: var(--card);
  border-top: 1px solid var(--line);
}
</style>
