<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import Popover from '@/design/controls/Popover.vue'
import type { AlignmentOut, OwnOutcomeOut } from '@/api/schema'
import type { DraftCriterion } from './criteria'

/** What else can be said of a criterion, and done to it. */
const criterion = defineModel<DraftCriterion>({ required: true })
const props = defineProps<{
  first: boolean
  last: boolean
  basis: AlignmentOut[]
  outcomes: Map<number, OwnOutcomeOut>
}>()
const emit = defineEmits<{
  move: [by: number]
  duplicate: []
  remove: []
  addLevel: []
}>()

const BASIS = {
  names: 'by the names of the levels',
  positions: 'level by level',
  yes: 'yes is mastery; no says nothing. A yes can lift nobody above mastery',
  proportion: 'in proportion to the points',
  even: 'spread evenly',
}

const actions = computed(() => [
  ...(criterion.value.kind === 'levels' && criterion.value.levels.length < 10
    ? [{ text: 'Add a level on top', act: () => emit('addLevel'), disabled: false }]
    : []),
  { text: 'Duplicate it', act: () => emit('duplicate'), disabled: false },
  { text: 'Move up', act: () => emit('move', -1), disabled: props.first },
  { text: 'Move down', act: () => emit('move', 1), disabled: props.last },
  { text: 'Delete this criterion', act: () => emit('remove'), disabled: false },
])
</script>

<template>
  <Popover v-slot="{ hide }" :label="`More on ${criterion.title || 'this criterion'}`" text="more">
    <div class="menu">
      <NCheckbox v-model:checked="criterion.bonus">Bonus: adds points on top</NCheckbox>
      <NCheckbox v-if="criterion.kind === 'levels'" v-model:checked="criterion.half_way">
        Half-way marks between levels
      </NCheckbox>
      <NCheckbox v-model:checked="criterion.remarks">Remarks on this criterion</NCheckbox>
      <NCheckbox v-model:checked="criterion.any_order">
        Points may fall as levels rise, on purpose
      </NCheckbox>
      <p v-for="tie in basis" :key="tie.outcome_id" class="small quiet">
        {{ outcomes.get(tie.outcome_id)?.code }}: default {{ BASIS[tie.basis] }}.
      </p>
      <NButton
        v-for="one in actions"
        :key="one.text"
        class="link"
        text
        :disabled="one.disabled"
        @click="(hide(), one.act())"
      >
        {{ one.text }}
      </NButton>
    </div>
  </Popover>
</template>

<style scoped>
.menu {
  display: grid;
  gap: 7px;
  justify-items: start;
}
</style>
