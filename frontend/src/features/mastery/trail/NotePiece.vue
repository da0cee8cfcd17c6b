<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import type { LevelChangeOut, NoteOut, PastNoteOut, ScaleOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import Menu from '@/design/controls/Menu.vue'
import Tag from '@/design/controls/Tag.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { dayAndTime, levelWords, localInput } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import LevelChanges from '@/shared/LevelChanges.vue'
import NoteFiles from '@/shared/notes/NoteFiles.vue'
import NoteLevels from '@/shared/notes/NoteLevels.vue'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { watchDebounced } from '@vueuse/core'

/** An observation note on the trail: what it says, changed, withdrawn, shown, and its history. */
const props = defineProps<{
  note: NoteOut
  /** null: of a class that one does not teach. */
  classId: number | null
  scale: ScaleOut
  value: string
  now: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const { timeZone } = useSession()
const refresh = useRefresh().marks
const { problem, busy, send } = useSending(refresh)
const path = computed(() => ({ params: { path: { note_id: props.note.id } } }))

const levelName = (level: number, levels: number, halfWay: boolean) =>
  levels === props.scale.levels.length
    ? levelWords(props.scale.levels[level]?.name, halfWay)
    : `level ${level + 1} of ${levels}`

const changing = ref(false)
const draft = ref({ level: 0 as number | null, halfWay: false, words: '', seenAt: '' })
function change() {
  const { note } = props
  const level = note.levels === props.scale.levels.length ? note.level : null
  const seenAt = localInput(note.seen_at, timeZone.value)
  draft.value = { level, halfWay: note.half_way, words: note.words, seenAt }
  moves.value = null
  changing.value = true
}
/** A time that is not touched stays as it is, to the second. */
const said = () => ({
  level: draft.value.level ?? -1,
  half_way: draft.value.halfWay,
  words: draft.value.words,
  seen_at:
    draft.value.seenAt === localInput(props.note.seen_at, timeZone.value)
      ? null
      : draft.value.seenAt,
})

/** What the change would move, said first. */
const moves = shallowRef<LevelChangeOut[] | null>(null)
watchDebounced(
  () => [draft.value.level, draft.value.halfWay, draft.value.seenAt],
  async () => {
    moves.value = null
    if (!changing.value || draft.value.level === null || props.classId === null) return
    const { id, outcome_id } = props.note
    const body = { ...said(), student_ids: [], outcome_id, changes: id }
    const at = { params: { path: { class_id: props.classId } } }
    try {
      const found = await ask(api.POST('/api/classes/{class_id}/notes/effects', { ...at, body }))
      moves.value = found.classes.flatMap((one) => one.changes)
    } catch (error) {
      problem.value = asProblem(error)
    }
  },
  { debounce: 300 },
)

async function save() {
  const body = { ...said(), version: props.note.version }
  if (!(await send(() => ask(api.PUT('/api/notes/{note_id}', { ...path.value, body }))))) return
  changing.value = false
  emit('changed')
}

async function withdraw() {
  const put = (withdrawn: boolean, version: number) =>
    ask(api.PUT('/api/notes/{note_id}/withdrawn', { ...path.value, body: { withdrawn, version } }))
  const { version } = props.note
  if (!(await send(() => put(true, version)))) return
  const work = async () => {
    await put(false, version + 1)
    // By then it stands on the trail no more, and nobody hears what it tells.
    await refresh()
  }
  say('The note is withdrawn: it does not count any more', { work, undone: 'It counts again' })
  emit('changed')
}

async function show(shown: boolean) {
  const body = { shown }
  const done = await send(() => ask(api.PUT('/api/notes/{note_id}/shown', { ...path.value, body })))
  if (!done) return
  say(shown ? 'The student sees this note now' : 'The student does not see this note any more')
  emit('changed')
}

const history = shallowRef<PastNoteOut[] | null>(null)
async function lookBack() {
  if (history.value) return void (history.value = null)
  await send(async () => {
    const found = await ask(api.GET('/api/notes/{note_id}', path.value))
    history.value = found.history
  })
}

const more = computed(() => [
  { text: 'Change', act: change },
  props.note.shown_at
    ? { text: 'Do not show it any more', act: () => show(false) }
    : { text: 'Show it to the student', act: () => show(true) },
  { text: history.value ? 'Close the history' : 'History', act: lookBack },
  { text: 'Withdraw', act: withdraw },
])
</script>

<template>
  <div class="note">
    <p class="row head">
      <b>{{ levelName(note.level, note.levels, note.half_way) }}</b>
      <Tag>note</Tag>
      <Tag v-if="note.shown_at">shown</Tag>
      <Menu
        v-if="now && classId"
        class="push"
        :label="`More on the note of ${dayAndTime(note.seen_at, timeZone)}`"
        small
        :items="more"
      />
    </p>
    <p v-if="note.words" dir="auto" class="said">{{ note.words }}</p>
    <p class="small quiet">{{ note.by }}, seen {{ dayAndTime(note.seen_at, timeZone) }}</p>
    <NoteFiles :files="note.files" />
    <form
      v-if="changing"
      v-opens
      novalidate
      aria-label="Change the note"
      class="change"
      @submit.prevent="save"
    >
      <NoteLevels
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
      <DateField v-model="draft.seenAt" label="Seen" time :error="problem?.at('seen_at')" />
      <LevelChanges v-if="moves" :changes="moves" :scales="[scale]" :most="3" values />
      <FormProblem :problem="problem" />
      <div class="row">
        <NButton type="primary" size="small" attr-type="submit" :disabled="busy">Save</NButton>
        <NButton quaternary size="small" @click="changing = false">Cancel</NButton>
      </div>
    </form>
    <FormProblem v-else :problem="problem" />
    <ol v-if="history" class="small history" aria-label="History of the note">
      <li v-for="one in history" :key="one.version">
        {{ one.at && dayAndTime(one.at, timeZone) }}, {{ one.by }}:
        <template v-if="one.withdrawn">withdrawn</template>
        <template v-else-if="one.aside">set aside: {{ one.aside }}</template>
        <template v-else
          >{{ levelName(one.level, one.levels, one.half_way) }}, seen
          {{ dayAndTime(one.seen_at, timeZone)
          }}<template v-if="one.words"> · “{{ one.words }}”</template></template
        >
      </li>
    </ol>
  </div>
</template>

<style scoped>
.note {
  display: grid;
  gap: 3px;
}
.head {
  flex-wrap: wrap;
  gap: 6px;
}
.said {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.change {
  display: grid;
  gap: 8px;
  padding: 8px 0;
}
.history {
  margin: 4px 0;
  padding-left: 18px;
}
.history li {
  display: list-item;
  border: 0;
  padding: 2px 0;
}
</style>
