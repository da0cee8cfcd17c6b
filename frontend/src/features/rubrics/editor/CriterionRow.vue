<script setup lang="ts">
import { vOneStop } from '@/design/oneStop'
import Menu from '@/design/controls/Menu.vue'
import { computed, ref } from 'vue'
import type { AlignmentOut, OwnOutcomeOut, ScaleOut } from '@/api/schema'
import CriterionMenu from './CriterionMenu.vue'
import LevelCell from './LevelCell.vue'
import {
  addLevel,
  align,
  moveLevel,
  pointsFall,
  removeLevel,
  unalign,
  type DraftCriterion,
} from './criteria'

/** One criterion: its title, outcomes and weight at the left, as many cells as it has levels. */
const criterion = defineModel<DraftCriterion>({ required: true })
const props = defineProps<{
  index: number
  count: number
  final: boolean
  weighted: boolean
  outcomes: OwnOutcomeOut[]
  scales: ScaleOut[]
  basis: AlignmentOut[]
  problems: Map<string, string>
}>()
const emit = defineEmits<{
  move: [by: number]
  remove: []
  duplicate: []
  /** Enter in the title: to the next criterion, or a new one. */
  next: []
  renamed: [place: number]
}>()

const where = computed(() => `criteria.${props.index}`)
const free = computed(() =>
  props.outcomes.filter(
    (one) => one.active && !criterion.value.alignments.some((tie) => tie.outcome_id === one.id),
  ),
)
const outcomeOf = computed(() => new Map(props.outcomes.map((one) => [one.id, one])))
const scaleOf = computed(() => new Map(props.scales.map((one) => [one.id, one])))
const over = ref(false)
const weightText = computed({
  get: () => criterion.value.weight ?? '',
  set: (text: string) => (criterion.value.weight = text),
})
/** Points that fall as levels rise are shown; they are a fault unless they are so on purpose. */
const falls = computed(() => pointsFall(criterion.value))

const OUTCOME = 'application/x-outcome'
function dragged(event: DragEvent) {
  over.value = !props.final && Boolean(event.dataTransfer?.types.includes(OUTCOME))
  if (over.value) event.preventDefault()
}
function dropped(event: DragEvent) {
  over.value = false
  const id = Number(event.dataTransfer?.getData(OUTCOME))
  if (id && free.value.some((one) => one.id === id)) align(criterion.value, id)
}

/** What each alignment says at one level, for the cell. */
function saysAt(place: number) {
  return criterion.value.alignments.flatMap((tie) => {
    const outcome = outcomeOf.value.get(tie.outcome_id)
    const cell = tie.cells[place]
    return cell && outcome ? [{ outcome, cell, scale: scaleOf.value.get(outcome.scale_id) }] : []
  })
}
</script>

<template>
  <section
    class="criterion"
    :class="{ over }"
    :aria-label="criterion.title || `Criterion ${index + 1}`"
    @dragover="dragged"
    @dragleave="over = false"
    @drop="dropped"
  >
    <div v-one-stop:column class="left">
      <b v-if="final">{{ criterion.title }}</b>
      <textarea
        v-else
        v-model="criterion.title"
        class="input plain criterion-title"
        data-stop
        rows="2"
        :aria-label="`Title of criterion ${index + 1}`"
        placeholder="What you look for"
        @keydown.enter.exact.prevent="emit('next')"
        :aria-invalid="problems.get(`${where}.title`) ? 'true' : undefined"
      />
      <div class="tags">
        <span v-if="criterion.bonus" class="tag">bonus</span>
        <span
          v-for="tie in criterion.alignments"
          :key="tie.outcome_id"
          class="tag"
          :title="outcomeOf.get(tie.outcome_id)?.title"
        >
          {{ outcomeOf.get(tie.outcome_id)?.code ?? '?' }}
          <span v-if="outcomeOf.get(tie.outcome_id)?.active === false" class="clay">retired</span>
          <button
            v-if="!final"
            class="x"
            type="button"
            :aria-label="`Not aligned to ${outcomeOf.get(tie.outcome_id)?.code} any more`"
            @click="unalign(criterion, tie.outcome_id)"
          >
            ×
          </button>
        </span>
        <span v-if="!criterion.alignments.length && !criterion.bonus" class="tag clay"
          >no outcome yet</span
        >
      </div>
      <div v-if="!final && free.length" class="align">
        <Menu
          :label="`Align to an outcome: ${criterion.title || 'this criterion'}`"
          text="Align to an outcome"
          small
          :items="
            free.map((one) => ({
              text: `${one.code} · ${one.title}`,
              act: () => align(criterion, one.id),
            }))
          "
        />
      </div>
      <div class="row small quiet settings">
        <label v-if="!criterion.bonus && (weighted || !final)" class="row weight">
          weight
          <input
            v-if="!final"
            v-model="weightText"
            class="input"
            inputmode="decimal"
            placeholder="none"
            :aria-label="`Weight of ${criterion.title || 'this criterion'} in per cent`"
            :aria-invalid="problems.get(`${where}.weight`) ? 'true' : undefined"
          />
          <span>{{ final ? criterion.weight : '' }}%</span>
        </label>
        <CriterionMenu
          v-if="!final"
          v-model="criterion"
          :first="index === 0"
          :last="index === count - 1"
          :basis="basis"
          :outcomes="outcomeOf"
          @move="emit('move', $event)"
          @duplicate="emit('duplicate')"
          @remove="emit('remove')"
          @add-level="addLevel(criterion, criterion.levels.length)"
        />
        <span v-if="criterion.half_way && criterion.kind === 'levels'">half-way allowed</span>
        <span v-if="!criterion.remarks">no remarks</span>
        <span v-if="falls" :class="{ clay: !criterion.any_order }"
          >▾ points fall{{ criterion.any_order ? ', on purpose' : '' }}</span
        >
      </div>
    </div>
    <div class="levels">
      <LevelCell
        v-for="(level, place) in criterion.levels"
        :key="level.key"
        v-model="criterion.levels[place]!"
        :says="saysAt(place)"
        :final="final"
        :changeable="!final && criterion.kind === 'levels'"
        :place="place"
        :count="criterion.levels.length"
        :problems="problems"
        :where="`${where}.levels.${place}`"
        :criterion="criterion.title || `criterion ${index + 1}`"
        @remove="removeLevel(criterion, place)"
        @move="moveLevel(criterion, place, $event)"
        @insert="addLevel(criterion, place + 1)"
        @renamed="emit('renamed', place)"
      />
    </div>
  </section>
</template>

<style scoped>
.criterion {
  display: grid;
  grid-template-columns: 216px minmax(0, 1fr);
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  margin-top: 10px;
}
.criterion.over {
  outline: 2px dashed var(--ink);
  outline-offset: 2px;
}
.left {
  padding: 9px 11px;
  border-right: 1px solid var(--line);
  display: grid;
  gap: 6px;
  align-content: start;
  min-width: 0;
}
.criterion-title {
  font-weight: 650;
  padding: 3px 5px;
  margin-left: -6px;
  resize: none;
  field-sizing: content;
}
.tags {
  display: flex;
  gap: 5px;
  flex-wrap: wrap;
}
.x {
  border: 0;
  background: none;
  padding: 0 2px;
  min-width: 24px;
  min-height: 24px;
  margin: -3px -9px -3px -2px;
  cursor: pointer;
}
.align {
  justify-self: start;
  margin-left: -8px;
}
.settings {
  flex-wrap: wrap;
  gap: 4px 10px;
}
.weight {
  gap: 4px;
}
.weight .input {
  width: 56px;
  padding: 2px 5px;
  min-height: 26px;
  border-color: var(--line);
}
.levels {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(110px, 1fr);
  overflow-x: auto;
}
@media (max-width: 900px) {
  .criterion {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    border-right: 0;
    border-bottom: 1px solid var(--line);
  }
}
@media (max-width: 600px) {
  .levels {
    grid-auto-flow: row;
  }
}
</style>
