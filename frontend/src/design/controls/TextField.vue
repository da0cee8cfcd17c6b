<script setup lang="ts">
import { NInput } from 'naive-ui'
import { computed, useAttrs } from 'vue'
import Field from './Field.vue'

/**
 * A text field, of one line or several, with its error where it is. Its label stands above it, or,
 * for a field that needs none in sight, is told with `bare`. Further attributes are the input's.
 */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  type?: 'text' | 'email' | 'password' | 'search' | 'number'
  multiline?: boolean
  rows?: number
  placeholder?: string
  disabled?: boolean
  short?: boolean
  bare?: boolean
}>()
const text = defineModel<string | number>({ required: true })
const attrs = useAttrs()
/** How it looks is of the field, what it is of the input. */
const own = computed(() =>
  Object.fromEntries(Object.entries(attrs).filter(([name]) => name !== 'class')),
)
const value = computed({
  get: () => String(text.value),
  set: (typed) => {
    const number = Number.parseFloat(typed)
    text.value = props.type === 'number' && !Number.isNaN(number) ? number : typed
  },
})
</script>

<template>
  <Field
    v-slot="f"
    :label="label"
    :error="error"
    :hint="hint"
    :bare="bare"
    :class="[$attrs.class, { short }]"
  >
    <NInput
      v-model:value="value"
      :type="multiline ? 'textarea' : type === 'password' ? 'password' : 'text'"
      :rows="rows"
      :placeholder="placeholder ?? ''"
      :disabled="disabled"
      :status="error ? 'error' : undefined"
      :input-props="{
        ...(multiline || type === 'password' ? {} : { type: type ?? 'text' }),
        ...own,
        id: f.id,
        'aria-label': bare ? label : undefined,
        'aria-invalid': f.invalid,
        'aria-describedby': f.describedby,
      }"
    />
  </Field>
</template>

<style scoped>
.short :deep(.n-input) {
  width: 110px;
}
</style>
