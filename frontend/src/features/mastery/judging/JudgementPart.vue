<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import type { TrailOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { day, longDay, today } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import { useKeptForm } from '@/shared/forms/useKeptForm'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { judging } from './judging'

/** The teacher's own level for one student and outcome: the one that holds, and setting one. */
const props = defineProps<{ classId: number; trail: TrailOut; now: boolean }>()
const emit = defineEmits<{ changed: []; several: [] }>()
const { timeZone } = useSession()
const refresh = useRefresh().wall
const { problem, busy, send } = useSending(refresh)
const present = () => props.trail.mastery.level ?? props.trail.scale.mastery_level
/** What is typed stays when another cell is looked at. */
const { trail: of } = props
const {
  body: draft,
  begun,
  cleared,
} = useKeptForm(`judgement of ${of.student_id} on ${of.outcome_id}`, () => ({
  level: present(),
  reason: '',
  since: today(timeZone.value),
}))
const open = ref(begun && props.now)
const held = computed(() => props.trail.judgement)
const earlier = computed(() => props.trail.judged.filter((one) => one.id !== held.value?.id))
const calculated = computed(() => {
  const { value, level } = props.trail.calculated
  return level === null ? null : `${value}, ${props.trail.scale.levels[level]!.name}`
})
const when = (iso: string) => day(iso, timeZone.value)

function begin() {
  if (!draft.value.reason) draft.value.level = present()
  open.value = true
}
function close() {
  open.value = false
  cleared()
}

async function judge() {
  const { level, reason, since } = draft.value
  const { student_id, outcome_id, student, code, scale } = props.trail
  const { classId } = props
  let entry = 0
  const levels = [{ student_id, outcome_id, level }]
  const done = await send(async () => {
    entry = await judging.judge(classId, levels, reason, since || null)
  })
  if (!done) return
  close()
  say(`${student} is judged to be at ${scale.levels[level]!.name} on ${code}`, {
    work: async () => {
      await judging.undo(classId, entry)
      await refresh()
    },
    undone: 'The judgement is undone',
  })
  emit('changed')
}

async function lift() {
  const { classId } = props
  const id = held.value!.id
  let entry = 0
  const done = await send(async () => {
    entry = await judging.lift(classId, id)
  })
  if (!done) return
  say('The judgement is lifted: the calculation counts again', {
    work: async () => {
      await judging.undoLifting(classId, entry)
      await refresh()
    },
    undone: 'The judgement holds again',
  })
  emit('changed')
}

async function keep() {
  if (await send(() => judging.keep(props.classId, held.value!.id))) emit('changed')
}
</script>

<template>
  <section aria-label="Judgement">
    <Notice v-if="held" plum class="held">
      <b class="plum">Judged: {{ held.name }}</b> since {{ longDay(held.since) }}, by
      {{ held.made_by }}
      <p class="reason" dir="auto">{{ held.reason }}</p>
      <p class="small quiet">
        {{ calculated ? `By calculation: ${calculated}.` : 'Nothing is calculated: no evidence.' }}
      </p>
      <p v-if="trail.mastery.evidence_changed" class="small clay">
        <b>The evidence changed since you judged.</b> Look at what is new below, then keep the
        judgement or lift it.
      </p>
      <div v-if="now" class="row">
        <NButton v-if="trail.mastery.evidence_changed" size="small" :disabled="busy" @click="keep"
          >Keep the judgement</NButton
        >
        <NButton size="small" :disabled="busy" @click="lift">Lift it</NButton>
        <NButton v-if="!open" size="small" quaternary @click="begin">Judge anew …</NButton>
      </div>
    </Notice>
    <p v-else-if="now && !open && !trail.not_expected" class="small row">
      <NButton class="link quiet" text @click="begin">Judge the level yourself …</NButton>
      <NButton class="link quiet" text @click="emit('several')">Judge several students …</NButton>
    </p>
    <form v-if="open" v-opens novalidate @submit.prevent="judge">
      <SelectField
        v-model="draft.level"
        :label="`Level on ${trail.code}`"
        :hint="
          calculated ? `By calculation: ${calculated}` : 'Without evidence nothing is calculated'
        "
        :error="problem?.at('levels.0.level')"
      >
        <option v-for="(one, at) in trail.scale.levels" :key="at" :value="at">
          {{ one.name }} ({{ one.value }})
        </option>
      </SelectField>
      <TextField
        v-model="draft.reason"
        label="Why"
        hint="The student sees the level and this reason"
        multiline
        :rows="2"
        :error="problem?.at('reason')"
      />
      <DateField
        v-model="draft.since"
        label="From"
        hint="It holds until you lift it, in every class"
        :max="today(timeZone)"
        :error="problem?.at('since')"
      />
      <div class="row">
        <NButton type="primary" attr-type="submit" :disabled="busy">Set the level</NButton>
        <NButton quaternary @click="close">Cancel</NButton>
      </div>
    </form>
    <FormProblem :problem="problem" />
    <details v-if="earlier.length" class="small">
      <summary>Judged before ({{ earlier.length }})</summary>
      <ul>
        <li v-for="one in earlier" :key="one.id">
          <b>{{ one.name }}</b> from {{ when(one.since)
          }}<template v-if="one.until"> to {{ when(one.until) }}</template
          >, by {{ one.made_by
          }}<template v-if="one.lifted_by">, lifted by {{ one.lifted_by }}</template>
          <p dir="auto" class="quiet">{{ one.reason }}</p>
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.held {
  margin: 8px 0;
}
.plum {
  color: var(--plum);
}
.reason {
  margin: 4px 0;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
form {
  margin: 8px 0;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--line);
  padding: 4px 0;
  overflow-wrap: anywhere;
}
</style>
