<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { reactive, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { MarkOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useSending } from '@/shared/forms/useSending'

/** What the teacher says of a total: further lines, the late deduction waived, the total by hand. */
const props = defineProps<{ taskId: number; mark: MarkOut }>()
const emit = defineEmits<{ saved: [mark: MarkOut]; close: [] }>()
const { problem, busy, send } = useSending()
const said = props.mark.adjustments
const lines = reactive(
  said.lines.map((line) => ({
    sign: line.amount.startsWith('-') ? '-' : '',
    points: line.amount.replace('-', '').replace(/\.?0+$/, ''),
    reason: line.reason,
  })),
)
const late =
  props.mark.total?.waived ?? props.mark.total?.lines.find((line) => line.kind === 'late') ?? null
const waived = ref(said.waived !== null)
const whyWaived = ref(said.waived ?? '')
const byHand = ref(said.by_hand !== null)
const total = ref(said.by_hand?.amount.replace(/\.?0+$/, '') ?? '')
const why = ref(said.by_hand?.reason ?? '')

async function save() {
  const { student, attempt, version } = props.mark
  const path = { task_id: props.taskId, student_id: student.id, attempt }
  const address = '/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/adjustments'
  let saved: MarkOut | null = null
  await send(async () => {
    saved = await ask(
      api.PUT(address, {
        params: { path },
        body: {
          lines: lines.map((line) => ({
            amount: `${line.sign}${line.points}`,
            reason: line.reason,
          })),
          waived: waived.value ? whyWaived.value : null,
          by_hand: byHand.value ? { amount: total.value, reason: why.value } : null,
          version,
        },
      }),
    )
  })
  if (saved) emit('saved', saved)
}
</script>

<template>
  <form v-opens class="adjust" aria-label="Adjust the total" novalidate @submit.prevent="save">
    <h2>Adjust the total</h2>
    <p class="small quiet">
      It moves the total only, never mastery. The student reads the reasons.
    </p>
    <FormProblem :problem="problem" />
    <div v-if="late">
      <NCheckbox v-model:checked="waived"
        >Waive the late deduction of {{ late.amount.replace('-', '') }}</NCheckbox
      >
      <p class="small quiet sum">{{ late.reason }}</p>
      <TextField v-if="waived" v-model="whyWaived" label="Why (if you wish)" />
    </div>
    <div v-for="(line, at) in lines" :key="at" class="line">
      <SelectField v-model="line.sign" label="Line" class="sign">
        <option value="">Bonus</option>
        <option value="-">Deduction</option>
      </SelectField>
      <TextField
        v-model="line.points"
        label="Points"
        class="points"
        inputmode="decimal"
        :error="problem?.at(`lines.${at}.amount`)"
      />
      <TextField
        v-model="line.reason"
        label="Reason"
        class="reason"
        :error="problem?.at(`lines.${at}.reason`)"
      />
      <NButton quaternary size="small" class="gone" @click="lines.splice(at, 1)"
        >Remove<span class="visually-hidden"> line {{ at + 1 }}</span></NButton
      >
    </div>
    <div class="row">
      <NButton size="small" @click="lines.push({ sign: '', points: '', reason: '' })"
        >Add a bonus or deduction</NButton
      >
    </div>
    <NCheckbox v-model:checked="byHand">Set the total by hand</NCheckbox>
    <div v-if="byHand" class="line">
      <TextField
        v-model="total"
        label="Total"
        class="points"
        inputmode="decimal"
        :error="problem?.at('by_hand.amount')"
      />
      <TextField
        v-model="why"
        label="Reason"
        class="reason"
        :error="problem?.at('by_hand.reason')"
      />
    </div>
    <div class="row">
      <NButton type="primary" attr-type="submit" :disabled="busy">Save the total</NButton>
      <NButton quaternary @click="emit('close')">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
.adjust {
  display: grid;
  gap: 8px;
  max-height: 46vh;
  overflow-y: auto;
  border-bottom: 1px solid var(--line);
  padding-bottom: 10px;
}
h2 {
  font-size: 15px;
}
.sum {
  padding-left: 26px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: start;
}
.sign {
  width: 112px;
}
.points {
  width: 70px;
}
.reason {
  flex: 1 1 120px;
}
.gone {
  margin-top: 24px;
}
</style>
