<script setup lang="ts">
import type { MethodIn } from '@/api/schema'
import type { Problem } from '@/api/client'
import Field from '@/design/Field.vue'
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
  <Field
    v-if="method.kind === 'decaying-average'"
    v-slot="f"
    label="What the newest piece counts, in per cent"
    :error="problem?.at('newest') ?? problem?.at('method.newest')"
  >
    <input
      :id="f.id"
      v-model="method.newest"
      class="input short"
      type="number"
      min="50"
      max="95"
      :aria-invalid="f.invalid"
      :aria-describedby="f.describedby"
    />
  </Field>
  <Field
    v-if="method.kind === 'recent-mean'"
    v-slot="f"
    label="How many of the last pieces"
    :error="problem?.at('last') ?? problem?.at('method.last')"
  >
    <input
      :id="f.id"
      v-model="method.last"
      class="input short"
      type="number"
      min="2"
      max="20"
      :aria-invalid="f.invalid"
      :aria-describedby="f.describedby"
    />
  </Field>
</template>

<style scoped>
.short {
  width: 90px;
}
</style>
