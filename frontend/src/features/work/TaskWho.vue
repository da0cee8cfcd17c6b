<script setup lang="ts">
import { NCheckbox, NRadio, NRadioGroup } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { useNameOrder } from '@/shared/order'
import { keys } from '@/shared/queries'

/** Whom a task is for: all of the class, or those who are chosen (null: all). */
const props = defineProps<{ classId: number; error?: string }>()
const chosen = defineModel<number[] | null>({ required: true })
const { byName } = useNameOrder()
const { data } = useQuery({
  key: () => keys.students(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/students', {
        params: { path: { class_id: props.classId } },
      }),
    ),
})
const students = computed(() => byName((data.value ?? []).filter((one) => !one.until)))
const who = computed({
  get: () => (chosen.value === null ? 'all' : 'some'),
  set: (to) => (chosen.value = to === 'all' ? null : []),
})

function pick(id: number, on: boolean) {
  const others = (chosen.value ?? []).filter((one) => one !== id)
  chosen.value = on ? [...others, id] : others
}
</script>

<template>
  <fieldset class="who">
    <legend>For</legend>
    <NRadioGroup v-model:value="who" name="who">
      <NRadio value="all">All of the class</NRadio>
      <NRadio value="some">Chosen students</NRadio>
    </NRadioGroup>
    <div v-if="chosen" class="names" role="group" aria-label="Students">
      <NCheckbox
        v-for="one in students"
        :key="one.id"
        :checked="chosen.includes(one.id)"
        @update:checked="pick(one.id, $event)"
        >{{ one.name }}</NCheckbox
      >
    </div>
    <p v-if="error" class="small clay" role="alert">{{ error }}</p>
  </fieldset>
</template>

<style scoped>
.who {
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
