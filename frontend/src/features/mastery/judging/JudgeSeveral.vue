<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import DateField from '@/design/controls/DateField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several, today } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useKeptForm } from '@/shared/forms/useKeptForm'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { judging } from './judging'
import type { OutcomeColumn, WallRow } from '@/features/mastery/wall'

/** The teacher's own levels for several students on one outcome, with one reason. */
const props = defineProps<{ classId: number; rows: WallRow[]; column: OutcomeColumn }>()
const emit = defineEmits<{ close: [] }>()
const { timeZone } = useSession()
const refresh = useRefresh().wall
const { problem, busy, send } = useSending(refresh)
/** What is chosen and typed stays when something else is looked at. */
const { body: draft, cleared } = useKeptForm(
  `judgements on ${props.column.outcome.id} in ${props.classId}`,
  () => ({
    levels: {} as Record<number, number | null>,
    reason: '',
    since: today(timeZone.value),
  }),
)
const scale = computed(() => props.column.scale)
const people = computed(() =>
  props.rows
    .map((row) => ({ ...row.student, cell: row.cells[props.column.at]! }))
    .filter((one) => one.cell.expected),
)
const chosen = computed(() =>
  people.value
    .map((one) => ({ ...one, level: draft.value.levels[one.id] ?? null }))
    .filter((one) => one.level !== null),
)

function stands(cell: WallRow['cells'][number]): string {
  if (cell.level === null) return 'no evidence'
  const name = scale.value.levels[cell.level]!.name
  return cell.judged ? `judged ${name}` : `${cell.value}, ${name}`
}

async function judge() {
  const { classId } = props
  const { code, id } = props.column.outcome
  const wanted = chosen.value.map((one) => ({
    student_id: one.id,
    outcome_id: id,
    level: one.level!,
  }))
  let entry = 0
  const done = await send(async () => {
    entry = await judging.judge(classId, wanted, draft.value.reason, draft.value.since || null)
  })
  if (!done) return
  say(`${several(wanted.length, 'student')} judged on ${code}`, {
    work: async () => {
      await judging.undo(classId, entry)
      await refresh()
    },
    undone: 'The judgements are undone',
  })
  close()
}
function close() {
  cleared()
  emit('close')
}
const errorOf = (studentId: number) => {
  const at = chosen.value.findIndex((one) => one.id === studentId)
  return problem.value?.at(`levels.${at}.student_id`) ?? problem.value?.at(`levels.${at}.level`)
}
</script>

<template>
  <form v-opens novalidate @submit.prevent="judge">
    <div class="row">
      <h2>Judge several on {{ column.outcome.code }}</h2>
      <NButton class="push" quaternary size="small" @click="close">Close</NButton>
    </div>
    <p class="small quiet">{{ column.outcome.title }}</p>
    <FormProblem :problem="problem" />
    <ul>
      <li v-for="one in people" :key="one.id">
        <span>
          {{ one.name }}
          <span class="small quiet block">{{ stands(one.cell) }}</span>
        </span>
        <select
          v-model="draft.levels[one.id]"
          class="input"
          :aria-label="`Level of ${one.name}`"
          :aria-invalid="!!errorOf(one.id)"
        >
          <option :value="undefined">as it is</option>
          <option v-for="(level, place) in scale.levels" :key="place" :value="place">
            {{ level.name }}
          </option>
        </select>
        <p v-if="errorOf(one.id)" class="small clay error">{{ errorOf(one.id) }}</p>
      </li>
    </ul>
    <TextField
      v-model="draft.reason"
      label="Why"
      hint="One reason for all of them; each student sees it beside their level"
      multiline
      :rows="2"
      :error="problem?.at('reason')"
    />
    <DateField
      v-model="draft.since"
      label="From"
      :max="today(timeZone)"
      :error="problem?.at('since') ?? problem?.at('levels')"
    />
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy || !chosen.length">
        Set {{ chosen.length ? several(chosen.length, 'level') : 'the levels' }}
      </NButton>
      <NButton quaternary @click="close">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 132px;
  gap: 2px 8px;
  align-items: center;
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
.block {
  display: block;
}
.error {
  grid-column: 1 / -1;
}
</style>
