<script setup lang="ts">
import { NButton, NTable } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { LogEntryOut, LogPersonOut, LogSubject } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import SelectField from '@/design/controls/SelectField.vue'
import { dayAndTime } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { useSession } from '@/shared/session'

/** What was changed at the school, the newest first, for its administrators. */
const { timeZone } = useSession()
const PAGE = 100
const entries = ref<LogEntryOut[]>([])
const people = ref<LogPersonOut[]>([])
const subject = ref<LogSubject | ''>('')
const person = ref<number | ''>('')
const since = ref('')
const until = ref('')
const all = ref(false)
const problem = ref<Problem | null>(null)
const pending = ref(true)

/** The kinds of change, to choose one from; what an entry says comes from the server. */
const WORDS: Record<LogSubject, string> = {
  account: 'account made',
  'account-ended': 'account ended',
  'account-restored': 'account restored',
  administrator: 'administrator',
  'own-account': 'own account',
  password: 'password changed',
  'password-link': 'link for a password',
  'class-teacher': 'teacher of a class',
  'class-responsible': 'class handed over',
  'class-set-aside': 'class set aside',
  'sample-class': 'sample class made',
  'sample-class-deleted': 'sample class deleted',
  'outcome-owner': 'outcome of the school',
  'class-copied': 'class copied',
  'class-method': 'method of a class',
  'class-scale': 'scale of a class',
  combining: 'how criteria combine',
  'strand-roll-up': 'what a strand says',
  'class-list': 'class list imported',
  'class-list-undone': 'import undone',
  membership: 'student of a class',
  'joining-undone': 'joining undone',
  slip: 'slip for a password',
  'slip-granted': 'slip granted',
  'outcome-method': 'method of an outcome',
  'outcome-scale': 'scale of an outcome',
  'not-expected': 'outcome not expected',
  judgement: 'judgement',
  'judgement-lifted': 'judgement lifted',
  'judgement-kept': 'judgement kept',
  'judgement-undone': 'judgement undone',
  scale: 'scale',
  framework: 'outcomes imported',
  'framework-taken-back': 'import undone',
  'rubric-wording': 'words of a rubric',
  'task-revision': 'revision of a task',
  'task-handed-back': 'handed back',
  'task-taken-back': 'handing back undone',
  'own-times': 'times of a student',
  'attempt-opened': 'attempt opened',
  'attempt-withdrawn': 'attempt withdrawn',
  'attempt-time': 'time of work',
  wish: 'another attempt declined',
  'evidence-set-aside': 'evidence set aside',
  'note-shown': 'note shown',
  'note-file': 'file of a note deleted',
  thin: 'when evidence is thin',
  language: 'language of names',
}

const asked = computed(() => ({
  ...(subject.value && { subject: subject.value }),
  ...(person.value && { person_id: person.value }),
  ...(since.value && { since: since.value }),
  ...(until.value && { until: until.value }),
}))
const narrowed = computed(() => Object.keys(asked.value).length > 0)
let turn = 0

async function load() {
  const mine = ++turn
  problem.value = null
  pending.value = true
  try {
    const before = entries.value.at(-1)?.id
    const query = { ...asked.value, ...(before === undefined ? {} : { before }) }
    const more = await ask(api.GET('/api/log', { params: { query } }))
    // What was asked before the choice changed is not wanted any more.
    if (mine !== turn) return
    entries.value.push(...more.entries)
    people.value = more.people
    all.value = more.entries.length < PAGE
  } catch (error) {
    if (mine === turn) problem.value = asProblem(error)
  } finally {
    if (mine === turn) pending.value = false
  }
}
watch(
  asked,
  () => {
    entries.value = []
    void load()
  },
  { immediate: true },
)

function everything() {
  subject.value = ''
  person.value = ''
  since.value = ''
  until.value = ''
}
usePageTitle('Log')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>Log</h1>
    </div>
    <div class="filters" role="group" aria-label="What is shown">
      <SelectField v-model="person" label="By">
        <option value="">everybody</option>
        <option v-for="one in people" :key="one.id" :value="one.id">{{ one.name }}</option>
      </SelectField>
      <SelectField v-model="subject" label="Kind of change">
        <option value="">every kind</option>
        <option v-for="(words, key) in WORDS" :key="key" :value="key">{{ words }}</option>
      </SelectField>
      <DateField v-model="since" label="From" />
      <DateField v-model="until" label="Until" />
      <NButton v-if="narrowed" quaternary @click="everything">Show everything</NButton>
    </div>
    <NTable v-if="entries.length" class="list" size="small">
      <thead>
        <tr>
          <th>When</th>
          <th>What was changed</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in entries" :key="one.id">
          <td class="quiet when">{{ dayAndTime(one.at, timeZone) }}</td>
          <td class="said">
            <b>{{ one.person ?? 'The program' }}</b> {{ one.said }}
          </td>
        </tr>
      </tbody>
    </NTable>
    <QueryState :error="problem" :pending="pending" @again="load" />
    <p v-if="!pending && !entries.length && !problem" class="quiet">
      {{ narrowed ? 'Nothing of this kind was changed.' : 'Nothing was changed yet.' }}
    </p>
    <NButton v-if="!all && entries.length" :disabled="pending" @click="load">Show earlier</NButton>
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 16px;
  align-items: end;
  margin-bottom: 16px;
}
.when {
  white-space: nowrap;
  width: 1%;
}
.said {
  overflow-wrap: anywhere;
}
/* On a phone an entry is a few lines, not a row that is cut off. */
@media (max-width: 560px) {
  thead {
    display: none;
  }
  td,
  tr {
    display: block;
    width: 100%;
  }
  tr {
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
  }
  .list td {
    border: 0;
    padding-block: 1px;
  }
}
</style>
