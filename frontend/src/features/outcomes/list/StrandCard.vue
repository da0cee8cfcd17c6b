<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { StrandOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import { several as counted } from '@/design/format'
import type { ClassStanding } from './useClassLadders'
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
  /** Whether the rows show arrows to move them by. */
  arranging: boolean
  /** How the class stands on each outcome, once that is known. */
  standings: Map<number, ClassStanding>
}>()
const emit = defineEmits<{
  change: [strandId: number]
  moveStrand: [strand: StrandOut, by: number]
  delete: [strand: StrandOut]
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
/** What else can be done to the strand; it is deleted only when nothing is in it. */
const items = computed(() => {
  const { strand, outcomes } = props.group
  if (!strand) return []
  const empty = !outcomes.length && !holds.value
  return [
    { text: 'Add an outcome here', act: () => emit('add', strand.id) },
    { text: 'Change the strand', act: () => emit('change', strand.id) },
    {
      text: 'Move up',
      act: () => emit('moveStrand', strand, -1),
      disabled: beside.value[0]?.id === strand.id,
    },
    {
      text: 'Move down',
      act: () => emit('moveStrand', strand, 1),
      disabled: beside.value.at(-1)?.id === strand.id,
    },
    ...(empty ? [{ text: 'Delete', act: () => emit('delete', strand) }] : []),
  ]
})

function dropped(event: { newDraggableIndex?: number; item?: HTMLElement }) {
  const id = Number(event.item?.dataset.id)
  const at = rows.value.findIndex((one) => one.id === id)
  if (at >= 0) emit('place', id, props.group.strand?.id ?? null, rows.value[at + 1]?.id ?? null)
}
</script>

<template>
  <section class="strand" :class="{ within: group.strand?.parent_id }">
    <div v-if="group.strand" class="row head">
      <h2>{{ group.strand.title }}</h2>
      <span v-if="group.outcomes.length" class="small quiet">{{
        counted(group.outcomes.length, 'outcome')
      }}</span>
      <Menu :label="`More on the strand ${group.strand.title}`" small :items="items" />
    </div>
    <h2 v-else class="loose">In no strand</h2>
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
        :arranging="arranging"
        :standing="standings.get(outcome.id)"
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
  margin-bottom: 14px;
}
.strand.within {
  margin-left: 28px;
}
.head {
  border-bottom: 1px solid var(--edge);
  padding-bottom: 2px;
}
.head h2 {
  min-width: 0;
}
.loose {
  border-bottom: 1px solid var(--edge);
  padding: 4px 0;
}
.none {
  padding: 6px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  min-height: 8px;
}
</style>
