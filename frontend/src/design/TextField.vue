<script setup lang="ts">
import Field from './Field.vue'

/** A labelled text field, of one line or several, with its error where it is. */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; error?: string; hint?: string; multiline?: boolean }>()
const text = defineModel<string | number>({ required: true })
</script>

<template>
  <Field v-slot="f" :label="label" :error="error" :hint="hint">
    <textarea
      v-if="multiline"
      :id="f.id"
      v-model="text"
      class="input"
      v-bind="$attrs"
      :aria-invalid="f.invalid"
      :aria-describedby="f.describedby"
    />
    <input
      v-else
      :id="f.id"
      v-model="text"
      class="input"
      v-bind="$attrs"
      :aria-invalid="f.invalid"
      :aria-describedby="f.describedby"
    />
  </Field>
</template>
