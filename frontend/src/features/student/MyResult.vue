<script setup lang="ts">
import { attemptWord } from '@/shared/states'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { dayAndTime, dayInWords, today } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import ResultView from '@/shared/student/ResultView.vue'
import TakeAlong from '@/shared/student/TakeAlong.vue'

/** What was handed back of one attempt, and what the student says of it. */
const props = defineProps<{ taskId: number; attempt: number | null }>()
const { data: session, timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.ownResult(props.taskId, props.attempt),
  query: () =>
    props.attempt === null
      ? ask(
          api.GET('/api/my/tasks/{task_id}/results', {
            params: { path: { task_id: props.taskId } },
          }),
        )
      : ask(
          api.GET('/api/my/tasks/{task_id}/results/{attempt}', {
            params: { path: { task_id: props.taskId, attempt: props.attempt } },
          }),
        ),
})
const refresh = useRefresh().own
const { problem, busy, send } = useSending(refresh)
const asking = ref(false)
const word = ref('')
const why = ref('')
watch(
  () => data.value?.next_word,
  (now) => (word.value = now ?? word.value),
  { immediate: true },
)
const path = computed(() => ({
  params: { path: { task_id: props.taskId, attempt: data.value?.attempt ?? 1 } },
}))
/** The newest attempt, handed back, that nothing was asked about yet. */
const canAsk = computed(
  () =>
    data.value &&
    !data.value.wish &&
    data.value.task.present &&
    data.value.task.kind !== 'other-evidence' &&
    data.value.attempt === data.value.attempts[0],
)

async function read() {
  const done = await send(() =>
    ask(
      api.POST('/api/my/tasks/{task_id}/results/{attempt}/read', {
        ...path.value,
        body: { next_word: word.value },
      }),
    ),
  )
  if (done) say('Your teacher sees that you have read it')
}

async function again() {
  const done = await send(() =>
    ask(
      api.POST('/api/my/tasks/{task_id}/results/{attempt}/wish', {
        ...path.value,
        body: { words: why.value },
      }),
    ),
  )
  if (!done) return
  asking.value = false
  say('Your teacher sees that you would like another attempt')
}
usePageTitle(() => data.value?.task.title)
</script>

<template>
  <div class="page wide">
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="page-head">
        <h1>{{ data.task.title }}</h1>
        <nav v-if="data.attempts.length > 1" aria-label="Attempts" class="actions row">
          <RouterLink
            v-for="number in data.attempts"
            :key="number"
            :to="{ name: 'my-result', params: { taskId, attempt: number } }"
            :aria-current="number === data.attempt ? 'page' : undefined"
            >{{ attemptWord(data.task.kind) }} {{ number }}</RouterLink
          >
        </nav>
      </div>
      <p class="print-only">
        {{ session?.person?.name }} · {{ data.task.class_name }} · {{ session?.school }} ·
        {{ dayInWords(today(timeZone)) }}
      </p>
      <ResultView :result="data">
        <div class="own no-print">
          <FormProblem :problem="problem" />
          <Notice v-if="data.wish" class="gap">
            <template v-if="data.wish.granted === null"
              >You asked for another attempt
              {{ dayAndTime(data.wish.made_at, timeZone) }}.</template
            >
            <template v-else-if="data.wish.granted">
              Another attempt is open.
              <RouterLink :to="{ name: 'my-task', params: { taskId } }">Begin it</RouterLink>
            </template>
            <template v-else>No other attempt for now.</template>
            <template v-if="data.wish.answer"> “{{ data.wish.answer }}”</template>
          </Notice>
          <TextField
            v-model="word"
            label="What I do next"
            hint="Your own word, which your teacher sees"
            multiline
            :rows="2"
            :error="problem?.at('next_word')"
          />
          <div class="row wrap">
            <NButton type="primary" :disabled="busy" @click="read">
              {{ data.read_at ? 'Save my word' : 'I have read it' }}
            </NButton>
            <NButton v-if="canAsk && !asking" @click="asking = true"
              >Ask for another attempt</NButton
            >
          </div>
          <TakeAlong
            :result="data"
            :address="`/api/my/tasks/${taskId}/results/${data.attempt}/pdf`"
            :name="data.task.title"
          />
          <p v-if="data.read_at" class="small quiet">
            Read {{ dayAndTime(data.read_at, timeZone) }}
          </p>
          <form v-if="asking" v-opens class="ask" novalidate @submit.prevent="again">
            <TextField
              v-model="why"
              label="Why another attempt?"
              hint="Say what you would do differently"
              multiline
              :rows="2"
              :error="problem?.at('words')"
            />
            <div class="row">
              <NButton type="primary" attr-type="submit" :disabled="busy">Ask</NButton>
              <NButton quaternary @click="asking = false">Cancel</NButton>
            </div>
          </form>
        </div>
      </ResultView>
    </template>
  </div>
</template>

<style scoped>
.wide {
  max-width: 1280px;
}
.own {
  margin-top: 18px;
  display: grid;
  gap: 8px;
}
.wrap {
  flex-wrap: wrap;
}
[aria-current] {
  font-weight: 650;
  text-decoration: none;
}
@media print {
  .wide :deep(.result) {
    display: block;
  }
}
</style>
