<script setup lang="ts">
import { NRadio, NRadioGroup } from 'naive-ui'
import { computed, useId } from 'vue'
import type { Problem } from '@/api/client'
import DateField from '@/design/controls/DateField.vue'
import { today } from '@/design/format'
import { useSession } from '@/shared/session'

/** From when on another method holds: altogether (null), or from a day on. */
const since = defineModel<string | null>({ required: true })
defineProps<{ problem: Problem | null }>()
const id = useId()
const { timeZone } = useSession()
const now = computed(() => today(timeZone.value))
const which = computed({
  get: () => (since.value === null ? 'altogether' : 'from'),
  set: (one) => (since.value = one === 'altogether' ? null : now.value),
})
</script>

<template>
  <fieldset>
    <legend class="small">When it holds</legend>
    <NRadioGroup v-model:value="which" :name="`${id}-since`">
      <NRadio value="altogether">The whole time, earlier days too</NRadio>
      <NRadio value="from">From a day on</NRadio>
    </NRadioGroup>
    <DateField
      v-if="since !== null"
      v-model="since"
      label="First day"
      hint="Earlier days keep the method they had"
      :error="problem?.at('since') ?? problem?.at('method_since')"
      :max="now"
    />
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0 0 10px;
  padding: 0;
}
legend {
  color: var(--ink-2);
  padding: 0 0 4px;
}
</style>
