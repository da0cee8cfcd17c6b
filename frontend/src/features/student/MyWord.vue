<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { ResultOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { dayAndTime } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'
import TakeAlong from '@/shared/student/TakeAlong.vue'
import { hasEntries } from '@/shared/kinds'

/** What a student says of what was handed back: their own word, and a wish for another attempt. */
const props = defineProps<{ result: ResultOut }>()
const emit = defineEmits<{ changed: [] }>()
const { timeZone } = useSession()
const { problem, busy, send } = useSending(async () => emit('changed'))
const task = computed(() => props.result.task)
const path = computed(() => ({
  params: { path: { task_id: task.value.id, attempt: props.result.attempt } },
}))
const id = () => `${task.value.id}.${props.result.attempt}`
const own = useDraft('what-i-do-next', () => ({
  id: id(),
  version: 0,
  body: { word: props.result.next_word ?? '' },
}))
const why = useDraft('another-attempt', () => ({ id: id(), version: 0, body: { words: '' } }))
const asking = ref(why.dirty)
/** The newest attempt, handed back, that nothing was asked about yet. */
const canAsk = computed(
  () =>
    !props.result.wish &&
    task.value.present &&
    !hasEntries(task.value.kind) &&
    props.result.attempt === task.value.attempt,
)
/** The attempt that was opened after this one is still to be handed in. */
const open = computed(() => task.value.granted && task.value.attempt === props.result.attempt + 1)
const when = (iso: string) => dayAndTime(iso, timeZone.value)

async function read() {
  const done = await send(() =>
    ask(
      api.POST('/api/my/tasks/{task_id}/results/{attempt}/read', {
        ...path.value,
        body: { next_word: own.body.word },
      }),
    ),
  )
  if (!done) return
  own.saved()
  say('Your teacher sees that you have read it')
}

async function again() {
  const done = await send(() =>
    ask(
      api.POST('/api/my/tasks/{task_id}/results/{attempt}/wish', {
        ...path.value,
        body: { words: why.body.words },
      }),
    ),
  )
  if (!done) return
  why.showTheirs()
  asking.value = false
  say('Your teacher sees that you would like another attempt')
}

function cancel() {
  why.showTheirs()
  asking.value = false
}
</script>

<template>
  <div class="own">
    <FormProblem :problem="problem" />
    <Notice v-if="result.wish" class="gap">
      <template v-if="result.wish.granted === null"
        >You asked for another attempt {{ when(result.wish.made_at) }}.</template
      >
      <template v-else-if="!result.wish.granted">No other attempt for now.</template>
      <template v-else-if="open">
        Another attempt is open{{ task.due_at ? `, due ${when(task.due_at)}` : '' }}.
        <RouterLink :to="{ name: 'my-task', params: { taskId: task.id } }">Begin it</RouterLink>
      </template>
      <template v-else-if="result.attempts.includes(result.attempt + 1)">
        <RouterLink
          :to="{ name: 'my-result', params: { taskId: task.id, attempt: result.attempt + 1 } }"
          >Attempt {{ result.attempt + 1 }}</RouterLink
        >
        was handed back.
      </template>
      <template v-else>
        Attempt {{ result.attempt + 1 }}
        {{
          task.has_work && task.handed_in_at && task.attempt === result.attempt + 1
            ? `was handed in ${when(task.handed_in_at)}`
            : 'has begun'
        }}.
        <RouterLink :to="{ name: 'my-task', params: { taskId: task.id } }">See it</RouterLink>
      </template>
      <template v-if="result.wish.answer"> “{{ result.wish.answer }}”</template>
    </Notice>
    <TextField
      v-model="own.body.word"
      label="What I do next"
      hint="Your own word, which your teacher sees"
      multiline
      :rows="2"
      :error="problem?.at('next_word')"
    />
    <p v-if="own.dirty" class="small quiet" role="status">
      Kept here; your teacher sees it once you save it
    </p>
    <div class="row wrap">
      <NButton type="primary" :disabled="busy" @click="read">
        {{ result.read_at ? 'Save my word' : 'I have read it' }}
      </NButton>
      <NButton v-if="canAsk && !asking" @click="asking = true">Ask for another attempt</NButton>
    </div>
    <TakeAlong
      :result="result"
      :address="`/api/my/tasks/${task.id}/results/${result.attempt}/pdf`"
      :name="task.title"
    />
    <p v-if="result.read_at" class="small quiet">Read {{ when(result.read_at) }}</p>
    <form v-if="canAsk && asking" v-opens class="ask" novalidate @submit.prevent="again">
      <TextField
        v-model="why.body.words"
        label="Why another attempt?"
        hint="Say what you would do differently"
        multiline
        :rows="2"
        :error="problem?.at('words')"
      />
      <div class="row">
        <NButton type="primary" attr-type="submit" :disabled="busy">Ask</NButton>
        <NButton quaternary @click="cancel">Cancel</NButton>
      </div>
    </form>
  </div>
</template>

<style scoped>
.own {
  margin-top: 18px;
  display: grid;
  gap: 8px;
}
.wrap {
  flex-wrap: wrap;
}
</style>
