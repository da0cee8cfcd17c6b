<script setup lang="ts">
import { computed } from 'vue'
import BankOffer from '@/features/marking/bank/BankOffer.vue'
import PassageRemarks from '@/features/marking/passages/PassageRemarks.vue'
import FeedbackAt from '@/features/marking/recording/FeedbackAt.vue'
import type { useRemarking } from './useRemarking'

/** What is said on a criterion, or (null) on the whole, beside its remark: the bank while it is open,
 * remarks on passages, spoken remarks and files.
 */
const props = defineProps<{
  it: ReturnType<typeof useRemarking>
  criterionId: number | null
  levelId: number | null
  /** Of several criteria that are open the bank is at one. */
  current: boolean
}>()
defineEmits<{ leave: [] }>()
const mark = computed(() => props.it.turn.mark.value)
const openHere = computed(() => {
  const { all, openKey } = props.it.passages
  const open = all.value.find((one) => one.key === openKey.value)
  return open !== undefined && open.text !== '' && open.criterion_id === props.criterionId
})
const offering = computed(
  () => props.current && props.it.bank.openFor.value === props.criterionId && mark.value,
)
</script>

<template>
  <BankOffer
    v-if="offering"
    :task-id="it.taskId"
    :student-id="it.turn.currentId.value"
    :attempt="mark?.attempt ?? 1"
    :searching="it.bank.searching.value"
    :criterion-id="criterionId"
    :level-id="levelId"
    @take="it.bank.take"
    @close="it.bank.close"
  />
  <PassageRemarks
    :it="it.passages"
    :criterion-id="criterionId"
    :criteria="it.turn.criteria.value"
    @leave="$emit('leave')"
  >
    <template #default="{ passage }">
      <FeedbackAt
        v-if="passage.text"
        :it="it.feedback"
        :place="{ criterionId, passageKey: passage.key }"
        :ready="Boolean(mark)"
        @leave="$emit('leave')"
      />
    </template>
  </PassageRemarks>
  <FeedbackAt
    :it="it.feedback"
    :place="{ criterionId, passageKey: null }"
    :quiet="openHere"
    :ready="Boolean(mark)"
    @leave="$emit('leave')"
  />
</template>
