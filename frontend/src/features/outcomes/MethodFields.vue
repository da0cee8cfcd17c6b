<script setup lang="ts">
import type { MethodIn } from '@/api/schema'
import type { Problem } from '@/api/client'
import Field from '@/design/Field.vue'
import TextField from '@/design/TextField.vue'
import { METHODS } from './methods'

/** A method and its setting. */
const method = defineModel<Required<MethodIn>>({ required: true })
defineProps<{ problem: Problem | null; label: string }>()
</script>

<template>
  <Field v-slot="f" :label="label" :hint="METHODS[method.kind].means">
    <select :id="f.id" v-model="method.kind" class="input" :aria-describedby="f.describedby">
      <option v-for="(one, kind) in METHODS" :key="kind" :value="kind">{{ one.name }}</option>
    </select>
  </Field>
  <TextField
    v-if="method.kind === 'decaying-average'"
    v-model="method.newest"
    label="What the newest piece counts, in per cent"
    :error="problem?.at('newest') ?? problem?.at('method.newest')"
    class="short"
    type="number"
    min="50"
    max="95"
  />
  <TextField
    v-if="method.kind === 'recent-mean'"
    v-model="method.last"
    label="How many of the last pieces"
    :error="problem?.at('last') ?? problem?.at('method.last')"
    class="short"
    type="number"
    min="2"
    max="20"
  />
</template>

<style scoped>
.short {
  width: 90px;
}
</style>
