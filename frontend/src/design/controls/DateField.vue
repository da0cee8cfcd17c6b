<script setup lang="ts">
import { computed } from 'vue'
import { dayInWords } from '@/design/format'
import Field from './Field.vue'

/**
 * A day, or with `time` a day and a time, with its error where it is. It is the browser's own input,
 * which shows days as the system does; the day in words beside it leaves no doubt.
 */
defineOptions({ inheritAttrs: false })
defineProps<{
  label: string
  error?: string
  hint?: string
  time?: boolean
  bare?: boolean
  beside?: boolean
}>()
const day = defineModel<string>({ required: true })
const words = computed(() => dayInWords(day.value))
</script>

<template>
  <Field
    v-slot="f"
    :label="label"
    :error="error"
    :hint="hint"
    :bare="bare"
    :class="[$attrs.class, { beside }]"
  >
    <span class="day">
      <input
        :id="f.id"
        v-model="day"
        class="input"
        v-bind="{ ...$attrs, class: undefined }"
        :type="time ? 'datetime-local' : 'date'"
        :aria-label="bare ? label : undefined"
        :aria-invalid="f.invalid"
        :aria-describedby="f.describedby"
      />
      <span v-if="words" class="small quiet">{{ words }}</span>
    </span>
  </Field>
</template>

<style scoped>
.day {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
.input {
  width: auto;
}
.beside {
  grid-template-columns: auto auto;
  align-items: center;
  gap: 8px;
  margin: 0;
}
</style>
