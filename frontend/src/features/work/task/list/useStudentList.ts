import { computed, ref, type Ref } from 'vue'
import type { StudentAtTaskOut } from '@/api/schema'
import { inGroup, inOrder, type Group, type Order } from './groups'

/** Which students of a task are shown, in what order, and which of them are chosen. */
export function useStudentList(everybody: Ref<StudentAtTaskOut[]>) {
  const group = ref<Group>('all')
  const order = ref<Order>('name')
  const picked = ref<number[]>([])
  const shown = computed(() =>
    inOrder(
      everybody.value.filter((one) => inGroup(one, group.value)),
      order.value,
    ),
  )
  const chosen = computed(() => everybody.value.filter((one) => picked.value.includes(one.id)))
  const all = computed({
    get: () => shown.value.length > 0 && shown.value.every((one) => picked.value.includes(one.id)),
    set: (on) => (picked.value = on ? shown.value.map((one) => one.id) : []),
  })

  function pick(studentId: number, on: boolean) {
    picked.value = picked.value.filter((one) => one !== studentId)
    if (on) picked.value.push(studentId)
  }

  return { group, order, picked, shown, chosen, all, pick }
}
