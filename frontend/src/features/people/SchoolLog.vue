<script setup lang="ts">
import { NButton, NTable } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { LogEntryOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import { dayAndTime } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { useSession } from '@/shared/session'

/** What was changed at the school, the newest first, for its administrators. */
const { timeZone } = useSession()
const PAGE = 100
const entries = ref<LogEntryOut[]>([])
const subject = ref('')
const all = ref(false)
const problem = ref<Problem | null>(null)
const pending = ref(true)

const WORDS: Record<string, string> = {
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

async function load() {
  problem.value = null
  pending.value = true
  try {
    const before = entries.value.at(-1)?.id
    const query = { subject: subject.value, ...(before === undefined ? {} : { before }) }
    const more = await ask(api.GET('/api/log', { params: { query } }))
    entries.value.push(...more)
    all.value = more.length < PAGE
  } catch (error) {
    problem.value = asProblem(error)
  } finally {
    pending.value = false
  }
}
watch(
  subject,
  () => {
    entries.value = []
    void load()
  },
  { immediate: true },
)

const MOST = 120
function short(value: unknown): string {
  if (value === null || value === undefined) return ''
  const one = (part: unknown): string =>
    typeof part === 'object' && part !== null ? `(${parts(part)})` : String(part)
  const parts = (whole: object) =>
    Array.isArray(whole)
      ? whole.map(one).join(', ')
      : Object.entries(whole)
          .map(([name, part]) => `${name} ${one(part)}`)
          .join(', ')
  const text = typeof value === 'object' ? parts(value) : String(value)
  return text.length > MOST ? `${text.slice(0, MOST)} …` : text
}
const rows = computed(() =>
  entries.value.map((one) => ({
    ...one,
    // Of an outcome in a class, the class stands behind a stroke.
    what: WORDS[one.subject.split('/')[0] ?? ''] ?? one.subject,
    change: [short(one.before), short(one.after)].filter(Boolean).join(' → '),
  })),
)
usePageTitle('Log')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>Log</h1>
      <div class="actions">
        <SelectField v-model="subject" label="Kind of change" bare>
          <option value="">Every kind of change</option>
          <option v-for="(words, key) in WORDS" :key="key" :value="key">{{ words }}</option>
        </SelectField>
      </div>
    </div>
    <div class="table-scroll" tabindex="0" role="region" aria-label="What was changed">
      <NTable class="list" size="small">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>Of</th>
            <th>Before → after</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in rows" :key="one.id">
            <td class="quiet when">{{ dayAndTime(one.at, timeZone) }}</td>
            <td>{{ one.person ?? 'the program' }}</td>
            <td>{{ one.what }}</td>
            <td>{{ one.name ?? `number ${one.subject_id}` }}</td>
            <td class="small change">{{ one.change }}</td>
          </tr>
        </tbody>
      </NTable>
    </div>
    <QueryState :error="problem" :pending="pending" @again="load" />
    <p v-if="!pending && !rows.length && !problem" class="quiet">Nothing of this kind yet.</p>
    <NButton v-if="!all && rows.length" :disabled="pending" @click="load">Show earlier</NButton>
  </div>
</template>

<style scoped>
.when {
  white-space: nowrap;
}
.change {
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
