<script setup lang="ts">
import { now } from '@/api/clock'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { OwnTaskPageOut, ReceiptOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { clock, dayAndTime, duration, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Modal from '@/design/telling/Modal.vue'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'
import { countWords } from '@/shared/student/writing'
import { sizeOfPart } from '@/shared/files/kinds'
import WorkParts from '@/shared/files/WorkParts.vue'
import PutIn from './PutIn.vue'
import { useWriting } from './useWriting'

/** Writing, a last look, handing in, and taking back before it is due. */
const props = defineProps<{ page: OwnTaskPageOut }>()
const emit = defineEmits<{ changed: [] }>()
const { timeZone } = useSession()
const task = computed(() => props.page.task)
const path = { params: { path: { task_id: props.page.task.id } } }
const writing = useWriting(props.page.task.id, props.page.draft)
const AS_BEFORE = 'It is handed in as before'
const { problem, busy, send } = useSending(async () => emit('changed'))
const looking = ref(false)
const receipt = ref<ReceiptOut | null>(null)
const words = computed(() => countWords(writing.text.value))
/** Something waits to be marked, and no further attempt is open. */
const there = computed(() => task.value.has_work && !task.value.granted)
const editing = ref(false)
/** How long the due time has passed: of a further attempt nothing is late by it. */
const past = computed(() => {
  const { due_at } = task.value
  const minutes = due_at ? Math.ceil((now() - Date.parse(due_at)) / 60_000) : 0
  return minutes > 0 ? duration(minutes) : ''
})
const late = computed(() => (task.value.further ? '' : past.value))
/** The outcomes of the task that a further attempt can still move to mastery. */
const below = computed(() =>
  props.page.outcomes.filter((one) => one.mastery.state !== 'mastered').map((one) => one.title),
)
/** Files that have not arrived yet. */
const arriving = ref(false)
const something = computed(() => words.value > 0 || props.page.put_in.length > 0)
/** The receipt of this attempt; what a teacher entered has none. */
const newest = computed(() =>
  props.page.receipts.find((one) => !one.taken_back_at && one.attempt === task.value.attempt),
)
/** What was taken back last, and not replaced since. */
const takenBack = computed(() => {
  const last = props.page.receipts[0]
  return last?.taken_back_at && last.attempt === task.value.attempt ? last : undefined
})
const when = (iso: string) => dayAndTime(iso, timeZone.value)

async function look() {
  // The draft first: what is handed in is what stands here.
  await writing.save()
  problem.value = null
  if (!writing.theirs.value) looking.value = true
}

async function handIn() {
  const done = await send(async () => {
    receipt.value = await ask(
      api.POST('/api/my/tasks/{task_id}/hand-in', {
        ...path,
        body: {
          text: writing.text.value,
          version: writing.version.value,
          replaced: there.value ? (newest.value?.number ?? null) : null,
          parts: props.page.put_in.map((one) => one.id),
        },
      }),
    )
  })
  if (!done) return
  looking.value = false
  writing.goOnFrom(writing.text.value, 0)
  editing.value = false
  say('Handed in')
}

async function takeBack() {
  const done = await send(async () => {
    const draft = await ask(api.POST('/api/my/tasks/{task_id}/take-back', path))
    writing.goOnFrom(draft.text, draft.version)
  })
  if (!done) return
  const taken = newest.value?.number
  receipt.value = null
  say(
    `Taken back: it is a draft again${task.value.due_at ? `, due ${when(task.value.due_at)}` : ''}`,
    { work: () => handInAsItWas(taken!), undone: AS_BEFORE },
  )
}

async function asItWas() {
  if (await send(() => handInAsItWas(takenBack.value!.number))) say(AS_BEFORE)
}

async function handInAsItWas(taken: number) {
  const body = { receipt: taken }
  // What was written since stays as a draft.
  await writing.save()
  await ask(api.POST('/api/my/tasks/{task_id}/take-back/undo', { ...path, body }))
  writing.goOnFrom('', 0)
  emit('changed')
}

/** Write on what was handed in; it stays handed in until it is handed in again. */
async function begin() {
  const done = await send(async () => {
    const draft = await ask(api.POST('/api/my/tasks/{task_id}/draft', path))
    if (!writing.dirty.value) writing.goOnFrom(draft.text, draft.version)
  })
  if (done) editing.value = true
}
</script>

<template>
  <section aria-label="Your work" class="work">
    <FormProblem v-if="!looking" :problem="problem" />
    <Notice v-if="writing.theirs.value" clay role="alert" class="gap">
      You wrote on in another tab or on another device.
      <p class="theirs">{{ writing.theirs.value.text || 'Nothing stands there.' }}</p>
      <span class="row wrap">
        <NButton size="small" @click="writing.choose(true)">Keep what stands here</NButton>
        <NButton size="small" @click="writing.choose(false)">Take the other one</NButton>
      </span>
    </Notice>
    <template v-if="there && !editing">
      <h2>Handed in</h2>
      <p v-if="newest" class="small">
        {{ when(newest.at) }} ·
        {{
          [
            newest.words ? several(newest.words, 'word') : '',
            newest.parts.length
              ? several(newest.parts.length, 'file or link', 'files and links')
              : '',
          ]
            .filter(Boolean)
            .join(' · ')
        }}
      </p>
      <p v-else class="small quiet">Your teacher entered this.</p>
      <details v-if="newest" class="small quiet receipt">
        <summary>Receipt</summary>
        Number {{ newest.number }}.
        <template v-if="newest.words"
          >SHA-256 of the text: <code>{{ newest.text_hash }}</code></template
        >
        <p v-for="part in newest.parts" :key="part.name">
          {{ part.name }}<code v-if="part.sent_hash"> SHA-256: {{ part.sent_hash }}</code>
        </p>
      </details>
      <WorkParts class="gap-above" :parts="page.handed_in" own />
      <p v-if="!task.closed || task.can_take_back" class="row wrap">
        <NButton v-if="!task.closed" :disabled="busy" @click="begin"
          >Change it, and hand in again</NButton
        >
        <NButton v-if="task.can_take_back" quaternary :disabled="busy" @click="takeBack"
          >Take it back</NButton
        >
      </p>
      <p v-else class="quiet small">{{ task.why }}</p>
    </template>
    <template v-else-if="task.closed && !editing">
      <Notice>{{ task.why }}</Notice>
      <div v-if="writing.text.value" class="paper" dir="auto">{{ writing.text.value }}</div>
      <WorkParts v-if="page.put_in.length" :parts="page.put_in" own />
    </template>
    <template v-else>
      <h2>{{ task.granted ? `Attempt ${task.attempt}` : 'Your work' }}</h2>
      <p v-if="task.granted" class="quiet gap">
        {{ task.due_at ? `Due ${when(task.due_at)}` : 'Without a due time' }}. Nothing is late by
        it.
      </p>
      <p v-if="task.granted && task.answer" class="gap" dir="auto">
        Your teacher: “{{ task.answer }}”
      </p>
      <p v-if="task.granted && page.carried.length" class="small gap">
        <template v-if="page.asked_again.length"
          ><b>Asked again:</b> {{ page.asked_again.join(', ') }}.</template
        >
        <template v-else
          ><b>Nothing is asked again:</b> every criterion was met.<template v-if="below.length">
            If your teacher marks this attempt anew, it can move:
            {{ below.join(', ') }}.</template
          ></template
        >
        <span class="quiet"> Met before, and carried over: {{ page.carried.join(', ') }}.</span>
      </p>
      <p v-if="task.granted && page.handed_in.length && !something" class="row wrap gap">
        <NButton :disabled="busy" @click="begin">Begin with a copy of what you handed in</NButton>
      </p>
      <Notice v-if="late" clay class="gap">
        It is {{ late }} past the due time. You can still hand it in; it is marked as late<template
          v-if="task.late_percent"
        >
          and costs {{ task.late_percent }}% of the points</template
        >.
      </Notice>
      <p v-if="takenBack" class="row wrap small gap">
        Taken back {{ when(takenBack.taken_back_at!) }}. Until you hand in again, this can be
        undone:
        <NButton size="small" :disabled="busy" @click="asItWas">Hand it in as it was</NButton>
      </p>
      <TextField
        v-model="writing.text.value"
        label="Write here"
        multiline
        :rows="14"
        :error="problem?.at('text')"
        @update:model-value="writing.typed()"
      />
      <p class="row small quiet state" role="status">
        <span>{{ several(words, 'word') }}</span>
        <span v-if="writing.problem.value?.gone" class="clay">
          Not saved on the server yet; it is kept on this device and sent when there is a connection
        </span>
        <span v-else-if="writing.problem.value && !writing.theirs.value" class="clay">{{
          writing.problem.value.message
        }}</span>
        <span v-else-if="writing.dirty.value">Saving …</span>
        <span v-else-if="writing.savedAt.value"
          >Saved at {{ clock(writing.savedAt.value, timeZone) }}</span
        >
      </p>
      <PutIn
        :task-id="task.id"
        :parts="page.put_in"
        @busy="arriving = $event"
        @changed="emit('changed')"
      />
      <p class="row wrap">
        <NButton
          type="primary"
          size="large"
          :disabled="!something || busy || arriving"
          @click="look"
          >Hand in …</NButton
        >
        <span v-if="arriving" class="small quiet">Once the files have arrived</span>
        <NButton v-if="editing && there" quaternary @click="editing = false"
          >Leave it as handed in</NButton
        >
      </p>
    </template>
    <Modal v-model:show="looking" title="Hand this in?">
      <p class="small quiet">
        {{ words ? several(words, 'word') : '' }}{{ words && page.put_in.length ? ' · ' : ''
        }}{{
          page.put_in.length ? several(page.put_in.length, 'file or link', 'files and links') : ''
        }}<template v-if="late"> · {{ late }} late</template>
      </p>
      <div v-if="words" class="paper last" dir="auto">{{ writing.text.value }}</div>
      <ul v-if="page.put_in.length" class="files">
        <li v-for="part in page.put_in" :key="part.id">
          {{ part.file_name ?? part.text }} <span class="small quiet">{{ sizeOfPart(part) }}</span>
        </li>
      </ul>
      <p class="small">
        <template v-if="past"
          >The due time has passed: once it is handed in, you cannot take it back or replace
          it.</template
        >
        <template v-else-if="task.due_at"
          >Until {{ when(task.due_at) }} you can take it back and hand it in again, as long as
          nobody has begun to mark it.</template
        >
        <template v-else>You can take it back until your teacher begins to mark it.</template>
      </p>
      <p v-if="problem" class="clay" role="alert">
        <b>Not handed in.</b> {{ problem.message }} What you wrote is kept.
      </p>
      <div class="row wrap">
        <NButton type="primary" :disabled="busy" @click="handIn">Hand in</NButton>
        <NButton quaternary @click="looking = false">Not yet</NButton>
      </div>
    </Modal>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
}
.gap {
  margin-bottom: 12px;
}
.paper {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 16px 18px;
  margin: 10px 0 14px;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  line-height: 1.6;
  max-width: 72ch;
}
.last {
  max-height: 40vh;
  overflow-y: auto;
}
.gap-above {
  margin: 10px 0 14px;
}
.files {
  margin: 0 0 10px;
  padding-left: 18px;
  overflow-wrap: anywhere;
}
.theirs {
  white-space: pre-wrap;
  max-height: 120px;
  overflow-y: auto;
  margin: 6px 0;
}
.state {
  flex-wrap: wrap;
  margin-bottom: 12px;
}
.wrap {
  flex-wrap: wrap;
}
.receipt code {
  overflow-wrap: anywhere;
}
</style>
