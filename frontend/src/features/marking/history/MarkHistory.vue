<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { api, ask } from '@/api/client'
import type { ChangeOut, MarkOut, SaidOut } from '@/api/schema'
import { clock, day, levelSign } from '@/design/format'
import { useKeys } from '@/design/keys'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import QueryState from '@/design/telling/QueryState.vue'
import { useSending } from '@/shared/forms/useSending'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** The versions of a mark: who changed what when, one beside today's, and back to it. */
const props = defineProps<{
  taskId: number
  studentId: number
  mark: MarkOut
  /** Look at the mark anew; also when this is closed again. */
  look: () => unknown
}>()
const emit = defineEmits<{ close: [] }>()
const { timeZone } = useSession()
const path = computed(() => ({
  task_id: props.taskId,
  student_id: props.studentId,
  attempt: props.mark.attempt,
}))
const HISTORY = '/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/history'
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.history(props.taskId, props.studentId, props.mark.attempt, props.mark.version),
  query: () => ask(api.GET(HISTORY, { params: { path: path.value } })),
  staleTime: 0,
})
const chosen = ref<number | null>(null)
const { data: beside, error: besideError } = useQuery({
  key: () => [
    ...keys.history(props.taskId, props.studentId, props.mark.attempt, props.mark.version),
    chosen.value,
  ],
  query: () =>
    ask(
      api.GET(`${HISTORY}/{version}`, {
        params: { path: { ...path.value, version: chosen.value! } },
      }),
    ),
  enabled: () => chosen.value !== null,
})
const { problem, busy, send } = useSending()

const WHAT: Record<string, string> = {
  remark: 'Remark',
  passage: 'Remark on a passage',
  recording: 'Recording',
  file: 'File',
  line: 'Line of the total',
  waived: 'Late deduction waived',
  'by-hand': 'Total by hand',
}
function placeOf(change: { what: string; criterion: string | null }): string {
  if (change.what === 'choice') return change.criterion ?? ''
  const on = change.criterion ?? (change.what === 'remark' ? 'the whole' : '')
  return `${WHAT[change.what] ?? ''}${on ? ` on ${on}` : ''}`
}
function words(said: SaidOut | null): string {
  if (!said) return 'nothing'
  if (said.level) return levelSign(said.level, said.half_way)
  if (said.not_assessed) return 'not assessed'
  const text = said.text && `“${said.text}”`
  return [said.amount, text].filter(Boolean).join(' ') || 'nothing'
}
function tells({ before, after }: ChangeOut): string {
  if (!before) return words(after)
  const [was, is] = [words(before), words(after)]
  return was === is ? `${is}, as before` : `${was} → ${is}`
}

async function restore(version: number) {
  const params = { path: { ...path.value, version } }
  const body = { version: props.mark.version }
  const before = props.mark.version
  if (!(await send(() => ask(api.POST(`${HISTORY}/{version}`, { params, body }))))) return
  chosen.value = null
  const { look } = props
  look()
  say('The earlier version stands again. It counts once it is finished.', {
    work: async () => {
      const now = { version: before + 1 }
      const path = { ...params.path, version: before }
      await ask(api.POST(`${HISTORY}/{version}`, { params: { path }, body: now }))
      look()
    },
    undone: 'The newer version stands again',
  })
}
const head = useTemplateRef('head')
onMounted(() => head.value?.focus())
useKeys('History', [{ keys: ['Escape'], does: 'Close the history', run: () => emit('close') }])
</script>

<template>
  <section class="history" aria-label="History of this mark">
    <div class="row">
      <h2 ref="head" tabindex="-1">History</h2>
      <NButton size="small" quaternary class="push" @click="$emit('close')">Close</NButton>
    </div>
    <QueryState :error="error ?? besideError" :pending="isPending" @again="refetch()" />
    <p v-if="data && !data.length" class="quiet small">Nothing is marked yet.</p>
    <FormProblem :problem="problem" />
    <ol v-if="data">
      <li v-for="(one, place) in data" :key="one.version">
        <p class="small">
          <b>{{ day(one.made_at, timeZone) }}, {{ clock(one.made_at, timeZone) }}</b>
          <span class="quiet">{{ ` ${one.by}` }}</span>
          <span v-if="one.counts" class="tag">counts</span>
          <span v-if="one.handed_back_at" class="tag"
            >handed back {{ day(one.handed_back_at, timeZone) }}</span
          >
        </p>
        <ul>
          <li v-for="(change, at) in one.changes" :key="at" class="small">
            {{ placeOf(change) }}: <span dir="auto">{{ tells(change) }}</span>
          </li>
        </ul>
        <NButton
          v-if="place"
          size="tiny"
          quaternary
          :aria-expanded="chosen === one.version"
          @click="chosen = chosen === one.version ? null : one.version"
          >Beside today’s</NButton
        >
        <div v-if="chosen === one.version && beside" class="beside">
          <table class="small">
            <thead>
              <tr>
                <th scope="col">Where</th>
                <th scope="col">Then</th>
                <th scope="col">Now</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, at) in beside" :key="at" :class="{ different: row.different }">
                <th scope="row">{{ placeOf(row) }}</th>
                <td dir="auto">{{ words(row.then) }}</td>
                <td dir="auto">
                  {{ words(row.now) }}<span v-if="row.different" class="quiet"> (different)</span>
                </td>
              </tr>
            </tbody>
          </table>
          <NButton size="small" :loading="busy" @click="restore(one.version)"
            >Go back to this version</NButton
          >
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.history {
  overflow: auto;
  flex: 1;
  min-height: 0;
  padding: 10px 16px 16px;
}
h2:focus {
  outline: none;
}
ol,
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
ol > li {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
  overflow-wrap: anywhere;
}
.tag {
  margin-left: 6px;
}
.beside {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding: 6px 0;
}
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
}
th,
td {
  text-align: start;
  vertical-align: top;
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}
thead th {
  color: var(--ink-2);
}
.different td,
.different th {
  font-weight: 650;
}
</style>
