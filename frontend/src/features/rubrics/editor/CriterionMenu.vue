<script setup lang="ts">
import { NPopover } from 'naive-ui'
import type { AlignmentOut, OwnOutcomeOut } from '@/api/schema'
import type { DraftCriterion } from './criteria'

/** What else can be said of a criterion, and done to it. */
const criterion = defineModel<DraftCriterion>({ required: true })
defineProps<{
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
</script>

<template>
  <NPopover trigger="click" placement="bottom-start">
    <template #trigger>
      <button
        class="link"
        type="button"
        :aria-label="`More on ${criterion.title || 'this criterion'}`"
      >
        more
      </button>
    </template>
    <div class="menu">
      <label class="row"
        ><input v-model="criterion.bonus" type="checkbox" /> Bonus: adds points on top</label
      >
      <label v-if="criterion.kind === 'levels'" class="row"
        ><input v-model="criterion.half_way" type="checkbox" /> Half-way marks between levels</label
      >
      <label class="row"
        ><input v-model="criterion.remarks" type="checkbox" /> Remarks on this criterion</label
      >
      <label class="row"
        ><input v-model="criterion.any_order" type="checkbox" /> Points may fall as levels rise, on
        purpose</label
      >
      <p v-for="tie in basis" :key="tie.outcome_id" class="small quiet">
        {{ outcomes.get(tie.outcome_id)?.code }}: default {{ BASIS[tie.basis] }}.
      </p>
      <button
        v-if="criterion.kind === 'levels' && criterion.levels.length < 10"
        class="link"
        type="button"
        @click="emit('addLevel')"
      >
        Add a level on top
      </button>
      <button class="link" type="button" @click="emit('duplicate')">Duplicate it</button>
      <button class="link" type="button" :disabled="first" @click="emit('move', -1)">
        Move up
      </button>
      <button class="link" type="button" :disabled="last" @click="emit('move', 1)">
        Move down
      </button>
      <button class="link" type="button" @click="emit('remove')">Delete this criterion</button>
    </div>
  </NPopover>
</template>

<style scoped>
.menu {
  display: grid;
  gap: 6px;
  justify-items: start;
  max-width: 290px;
}
</style>
