<script setup lang="ts">
import SelectField from '@/design/controls/SelectField.vue'
import type { MethodIn } from '@/api/schema'
import type { Problem } from '@/api/client'
import TextField from '@/design/controls/TextField.vue'
import { METHODS } from './methods'

/** A method and its setting. */
const method = defineModel<Required<MethodIn>>({ required: true })
defineProps<{ problem: Problem | null; label: string }>()
</script>

<template>
  <SelectField v-model="method.kind" :label="label" :hint="METHODS[method.kind].means">
    <option v-for="(one, kind) in METHODS" :key="kind" :value="kind">{{ one.name }}</option>
  </SelectField>
  <TextField
    v-if="method.kind === 'decaying-average'"
    v-model="method.newest"
    label="What the newest piece counts, in per cent"
    :error="problem?.at('newest') ?? problem?.at('method.newest')"
    short
    type="number"
    min="50"
    max="95"
  />
  <TextField
    v-if="method.kind === 'recent-mean'"
    v-model="method.last"
    label="How many of the last pieces"
    :error="problem?.at('last') ?? problem?.at('method.last')"
    short
    type="number"
    min="2"
    max="20"
  />
</template>
