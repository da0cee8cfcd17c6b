<script setup lang="ts" generic="Value extends string | number | null">
import Field from './Field.vue'

/**
 * A choice of one of several, with its error where it is; the slot holds the options. It is the
 * browser's own: Naive UI's has no role and no name.
 */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; error?: string; hint?: string; bare?: boolean }>()
const chosen = defineModel<Value>({ required: true })
</script>

<template>
  <Field v-slot="f" :label="label" :error="error" :hint="hint" :bare="bare" :class="$attrs.class">
    <select
      :id="f.id"
      v-model="chosen"
      class="input"
      v-bind="{ ...$attrs, class: undefined }"
      :aria-label="bare ? label : undefined"
      :aria-invalid="f.invalid"
      :aria-describedby="f.describedby"
    >
      <slot />
    </select>
  </Field>
</template>
