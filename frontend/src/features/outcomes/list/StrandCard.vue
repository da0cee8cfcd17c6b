<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { StrandOut } from '@/api/schema'
import OutcomeRow from './OutcomeRow.vue'
import type { StrandGroup } from '@/features/outcomes/useOutcomes'

/** A strand with its outcomes, or the outcomes that are in none. */
const props = defineProps<{
  group: StrandGroup
  strands: StrandOut[]
  chosenId: number | null
  /** Whether the rows have boxes to choose several by, and which are chosen. */
  several: boolean
  marked: Set<number>
  /** A search narrows what is shown: nothing can be moved. */
  narrowed: boolean
}>()
const emit = defineEmits<{
  change: [strand: StrandOut, change: Partial<StrandOut>]
  moveStrand: [strand: StrandOut, by: number]
  delete: [strandId: number]
  add: [strandId: number]
  choose: [outcomeId: number]
  mark: [outcomeId: number, on: boolean]
  move: [outcomeId: number, by: -1 | 1]
  place: [outcomeId: number, strandId: number | null, beforeId: number | null]
}>()

/** What is shown while a row is dragged; the server's order after it. */
const rows = ref([...props.group.outcomes])
watch(
  () => props.group.outcomes,
  (now) => (rows.value = [...now]),
)
const beside = computed(() =>
  props.strands.filter((one) => one.parent_id === props.group.strand?.parent_id),
)
const holds = computed(() => props.strands.some((one) => one.parent_id === props.group.strand?.id))
const parents = computed(() =>
  props.strands.filter((one) => one.parent_id === null && one.id !== props.group.strand?.id),
)

function dropped(event: { newDraggableIndex?: number; item?: HTMLElement }) {
  const id = Number(event.item?.dataset.id)
  const at = rows.value.findIndex((one) => one.id === id)
  if (at >= 0) emit('place', id, props.group.strand?.id ?? null, rows.value[at + 1]?.id ?? null)
}
</script>

<template>
  <section class="strand" :class="{ within: group.strand?.parent_id }">
    <div v-if="group.strand" class="row head">
      <h2 class="strand-title">
        <input
          class="input plain"
          :value="group.strand.title"
          :aria-label="`Title of the strand ${group.strand.title}`"
          @change="
            emit('change', group.strand, { title: ($event.target as HTMLInputElement).value })
          "
        />
      </h2>
      <select
        v-if="!holds && parents.length"
        class="input place"
        :aria-label="`Strand that ${group.strand.title} is within`"
        :value="group.strand.parent_id ?? ''"
        @change="
          emit('change', group.strand, {
            parent_id: Number(($event.target as HTMLSelectElement).value) || null,
          })
        "
      >
        <option value="">not within another strand</option>
        <option v-for="one in parents" :key="one.id" :value="one.id">within {{ one.title }}</option>
      </select>
      <button
        class="btn bare small"
        type="button"
        :disabled="beside[0]?.id === group.strand.id"
        :aria-label="`Move the strand ${group.strand.title} up`"
        @click="emit('moveStrand', group.strand, -1)"
      >
        ↑
      </button>
      <button
        class="btn bare small"
        type="button"
        :disabled="beside.at(-1)?.id === group.strand.id"
        :aria-label="`Move the strand ${group.strand.title} down`"
        @click="emit('moveStrand', group.strand, 1)"
      >
        ↓
      </button>
      <button
        v-if="!group.outcomes.length && !holds"
        class="btn bare small"
        type="button"
        @click="emit('delete', group.strand.id)"
      >
        Delete
      </button>
      <button class="btn bare small" type="button" @click="emit('add', group.strand.id)">
        Add an outcome here
      </button>
    </div>
    <h2 v-else class="strand-title loose">In no strand</h2>
    <VueDraggable
      v-model="rows"
      tag="ul"
      group="outcomes"
      handle=".handle"
      :disabled="narrowed"
      :delay="80"
      :delay-on-touch-only="true"
      @add="dropped"
      @update="dropped"
    >
      <OutcomeRow
        v-for="outcome in rows"
        :key="outcome.id"
        :data-id="outcome.id"
        :outcome="outcome"
        :on="outcome.id === chosenId"
        :several="several"
        :marked="marked.has(outcome.id)"
        :movable="!narrowed"
        @choose="emit('choose', outcome.id)"
        @mark="(on) => emit('mark', outcome.id, on)"
        @move="(by) => emit('move', outcome.id, by)"
      />
    </VueDraggable>
    <p v-if="!group.outcomes.length && !narrowed" class="small quiet none">
      {{ holds ? 'Its outcomes are in the strands within it.' : 'No outcome in this strand yet.' }}
    </p>
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
.strand.within {
  margin-left: 28px;
}
.head {
  flex-wrap: wrap;
  gap: 2px 4px;
}
.strand-title {
  flex: 1;
  min-width: 160px;
}
.strand-title .input {
  font: inherit;
  padding-left: 4px;
}
.place {
  width: auto;
  max-width: 190px;
  font-size: 12.5px;
  min-height: 28px;
  padding: 2px 6px;
  border-color: transparent;
  background: transparent;
  color: var(--ink-2);
}
.place:hover,
.place:focus {
  border-color: var(--edge);
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
  min-height: 8px;
}
</style>
