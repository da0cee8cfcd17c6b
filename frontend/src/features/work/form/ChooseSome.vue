<script setup lang="ts" generic="Key extends string | number">
import { NCheckbox, NRadio, NRadioGroup } from 'naive-ui'
import { computed, useId } from 'vue'

/** All, or those that are chosen (null: all); choosing begins with none of them, or with `each`. */
const props = defineProps<{
  legend: string
  all: string
  some: string
  options: { key: Key; label: string }[]
  each?: boolean
  error?: string
}>()
const chosen = defineModel<Key[] | null>({ required: true })
const id = useId()
const which = computed({
  get: () => (chosen.value === null ? 'all' : 'some'),
  set: (to) =>
    (chosen.value = to === 'all' ? null : props.each ? props.options.map((one) => one.key) : []),
})

function pick(key: Key, on: boolean) {
  const others = (chosen.value ?? []).filter((one) => one !== key)
  chosen.value = on ? [...others, key] : others
}
</script>

<template>
  <fieldset class="choose" :aria-describedby="error ? id : undefined">
    <legend>{{ legend }}</legend>
    <NRadioGroup v-model:value="which" :name="`${id}-which`">
      <NRadio value="all">{{ all }}</NRadio>
      <NRadio value="some">{{ some }}</NRadio>
    </NRadioGroup>
    <div v-if="chosen" class="names" role="group" :aria-label="some">
      <NCheckbox
        v-for="one in options"
        :key="one.key"
        :checked="chosen.includes(one.key)"
        @update:checked="pick(one.key, $event)"
        >{{ one.label }}</NCheckbox
      >
    </div>
    <p v-if="error" :id="id" class="small clay" role="alert">{{ error }}</p>
  </fieldset>
</template>

<style scoped>
.choose {
  border: 0;
  padding: 0;
  margin: 0 0 14px;
}
legend {
  font-weight: 600;
  font-size: 13.5px;
  padding: 0;
  margin-bottom: 4px;
}
.names {
  display: grid;
  gap: 4px;
  max-height: 220px;
  overflow-y: auto;
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 8px 10px;
  margin-top: 6px;
}
</style>
