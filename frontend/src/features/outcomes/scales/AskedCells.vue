<script setup lang="ts">
import { NInput } from 'naive-ui'
import type { AskedCellOut } from '@/api/schema'

/** Values written by hand that would mean another level on the changed scale: each is asked for. */
defineProps<{ cells: AskedCellOut[]; problem: (index: number) => string | undefined }>()
const decided = defineModel<Record<string, string>>({ required: true })

const keyOf = (cell: AskedCellOut) =>
  [cell.rubric_id, cell.criterion, cell.level, cell.outcome_id, cell.was].join(' ')

function decide(cell: AskedCellOut, value: string) {
  decided.value = { ...decided.value, [keyOf(cell)]: value }
}
</script>

<template>
  <div class="asked" role="group" aria-label="Values you wrote by hand">
    <p class="small">
      <b>Values you wrote by hand</b> would mean another level, or lie outside the scale. Say what
      each is evidence of now; the place that matches the old one is filled in.
    </p>
    <label v-for="(cell, index) in cells" :key="keyOf(cell)" class="small">
      <span>
        {{ cell.rubric }}, {{ cell.criterion_title }}: {{ cell.level_name }}, {{ cell.was }} until
        now ({{ cell.was_level }})
      </span>
      <NInput
        :value="decided[keyOf(cell)] ?? cell.offered"
        :status="problem(index) ? 'error' : undefined"
        :input-props="{
          inputmode: 'decimal',
          'aria-invalid': problem(index) ? 'true' : undefined,
        }"
        placeholder=""
        @update:value="decide(cell, $event)"
      />
      <span v-if="problem(index)" class="clay" role="alert">{{ problem(index) }}</span>
    </label>
  </div>
</template>

<style scoped>
.asked {
  border: 1px solid var(--clay);
  border-radius: var(--r);
  padding: 8px 10px;
  margin: 0;
  display: grid;
  gap: 6px;
}
label {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 84px;
  gap: 2px 8px;
  align-items: center;
}
label > .clay {
  grid-column: 1 / -1;
}
</style>
