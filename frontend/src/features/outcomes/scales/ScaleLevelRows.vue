<script setup lang="ts">
import { NButton, NInput, NRadio } from 'naive-ui'
import type { Problem } from '@/api/client'
import type { LevelOut } from '@/api/schema'

/** A level of a scale: name, code, value, cut score, whether it is mastery, and what it means. */
const level = defineModel<LevelOut>({ required: true })
const masteryLevel = defineModel<number>('masteryLevel', { required: true })
const props = defineProps<{ index: number; removable: boolean; problem: Problem | null }>()
const emit = defineEmits<{ remove: [] }>()

const FIELDS = [
  ['name', 'Name', ''],
  ['code', 'Code', 'code'],
  ['value', 'Value', 'number'],
  ['cut', 'Cut score', 'number'],
] as const

function at(field: string): 'true' | undefined {
  return props.problem?.at(`levels.${props.index}.${field}`) ? 'true' : undefined
}
</script>

<template>
  <tr :class="{ mastered: index >= masteryLevel }">
    <td v-for="[field, label, kind] in FIELDS" :key="field" :class="kind">
      <NInput
        v-model:value="level[field]"
        :status="at(field) ? 'error' : undefined"
        :input-props="{
          inputmode: kind === 'number' ? 'decimal' : undefined,
          'aria-label': `${label} of level ${index + 1}`,
          'aria-invalid': at(field),
        }"
        placeholder=""
      />
    </td>
    <td class="radio">
      <NRadio
        :checked="masteryLevel === index"
        @update:checked="masteryLevel = index"
        name="mastery"
        :aria-label="`Level ${index + 1} is mastery`"
      />
    </td>
    <td>
      <NButton
        v-if="removable"
        quaternary
        size="small"
        :aria-label="`Delete level ${index + 1}`"
        @click="emit('remove')"
      >
        ×
      </NButton>
    </td>
  </tr>
  <tr :class="{ mastered: index >= masteryLevel }">
    <td colspan="6" class="means">
      <NInput
        v-model:value="level.description"
        type="textarea"
        size="small"
        :autosize="{ minRows: 1 }"
        :input-props="{
          'aria-label': `What level ${index + 1} means`,
          'aria-invalid': at('description'),
        }"
        placeholder="What it means"
      />
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 2px 3px 0 0;
}
td.means {
  padding-bottom: 4px;
}
.means :deep(.n-input) {
  --n-border: 1px solid var(--line) !important;
}
td.code {
  width: 48px;
}
td.number {
  width: 66px;
}
tr.mastered td:first-child {
  box-shadow: inset 3px 0 0 var(--jade);
  padding-left: 6px;
}
.radio {
  text-align: center;
}
.btn.small {
  padding: 4px 8px;
}
</style>
