<script setup lang="ts">
import OutcomeRow from './OutcomeRow.vue'
import type { StrandGroup } from './useOutcomes'

/** A strand with its outcomes, or the outcomes that are in none. */
defineProps<{
  group: StrandGroup
  first: boolean
  last: boolean
  classMethod: string
  chosenId: number | null
}>()
defineEmits<{
  rename: [strandId: number, title: string]
  moveStrand: [strandId: number, by: number]
  delete: [strandId: number]
  add: [strandId: number]
  choose: [outcomeId: number]
  move: [outcomeId: number, by: number, from: EventTarget | null]
}>()
</script>

<template>
  <section class="strand">
    <div v-if="group.strand" class="row">
      <h2 class="strand-title">
        <input
          class="input plain"
          :value="group.strand.title"
          :aria-label="`Title of the strand ${group.strand.title}`"
          @change="$emit('rename', group.strand.id, ($event.target as HTMLInputElement).value)"
        />
      </h2>
      <button
        class="btn bare small"
        type="button"
        :disabled="first"
        :aria-label="`Move the strand ${group.strand.title} up`"
        @click="$emit('moveStrand', group.strand.id, -1)"
      >
        ↑
      </button>
      <button
        class="btn bare small"
        type="button"
        :disabled="last"
        :aria-label="`Move the strand ${group.strand.title} down`"
        @click="$emit('moveStrand', group.strand.id, 1)"
      >
        ↓
      </button>
      <button
        v-if="!group.outcomes.length"
        class="btn bare small"
        type="button"
        @click="$emit('delete', group.strand.id)"
      >
        Delete
      </button>
      <button class="btn bare small push" type="button" @click="$emit('add', group.strand.id)">
        Add an outcome here
      </button>
    </div>
    <h2 v-else class="strand-title loose">In no strand</h2>
    <ul>
      <OutcomeRow
        v-for="(outcome, place) in group.outcomes"
        :key="outcome.id"
        :outcome="outcome"
        :class-method="classMethod"
        :on="outcome.id === chosenId"
        :first="place === 0"
        :last="place === group.outcomes.length - 1"
        @choose="$emit('choose', outcome.id)"
        @move="(by, from) => $emit('move', outcome.id, by, from)"
      />
    </ul>
    <p v-if="!group.outcomes.length" class="small quiet none">No outcome in this strand yet.</p>
  </section>
</template>

<style scoped>
.strand {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  margin-bottom: 12px;
  padding: 6px 10px 8px;
}
.strand-title {
  flex: 1;
  min-width: 0;
}
.strand-title .input {
  font: inherit;
  padding-left: 4px;
}
.loose {
  padding: 6px 4px;
}
.none {
  padding: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
