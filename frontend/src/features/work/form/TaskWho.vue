<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { useNameOrder } from '@/shared/order'
import { keys } from '@/shared/queries'
import ChooseSome from './ChooseSome.vue'

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
const students = computed(() =>
  byName((data.value ?? []).filter((one) => !one.until)).map((one) => ({
    key: one.id,
    label: one.name,
  })),
)
</script>

<template>
  <ChooseSome
    v-model="chosen"
    legend="For"
    all="All of the class"
    some="Chosen students"
    :options="students"
    :error="error"
  />
</template>
