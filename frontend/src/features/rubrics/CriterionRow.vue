<script setup lang="ts">
import { NPopover } from 'naive-ui'
import { computed } from 'vue'
import type { AlignmentOut, OwnOutcomeOut, ScaleOut } from '@/api/schema'
import LevelCell from './LevelCell.vue'
import { newKey, type DraftCriterion } from './useRubric'

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
const emit = defineEmits<{ move: [by: number]; remove: [] }>()

const where = computed(() => `criteria.${props.index}`)
const free = computed(() =>
  props.outcomes.filter(
    (one) => one.active && !criterion.value.alignments.some((tie) => tie.outcome_id === one.id),
  ),
)
const outcomeOf = computed(() => new Map(props.outcomes.map((one) => [one.id, one])))
const scaleOf = computed(() => new Map(props.scales.map((one) => [one.id, one])))
const weightText = computed({
  get: () => criterion.value.weight ?? '',
  set: (text: string) => (criterion.value.weight = text),
})

const BASIS = {
  names: 'by the names of the levels',
  positions: 'level by level',
  yes: 'yes is mastery; no says nothing. A yes can lift nobody above mastery',
  proportion: 'in proportion to the points',
  even: 'spread evenly',
}

function align(event: Event) {
  const select = event.target as HTMLSelectElement
  const id = Number(select.value)
  select.value = ''
  if (!id) return
  criterion.value.alignments.push({
    outcome_id: id,
    weight: 1,
    cells: criterion.value.levels.map(() => ({ value: '', by_hand: false })),
  })
}

function unalign(id: number) {
  criterion.value.alignments = criterion.value.alignments.filter((tie) => tie.outcome_id !== id)
}

function addLevel() {
  const last = criterion.value.levels.at(-1)
  criterion.value.levels.push({
    key: newKey(),
    name: '',
    points: String(Number(last?.points ?? 0) + 1),
    descriptor: '',
  })
  for (const tie of criterion.value.alignments) tie.cells.push({ value: '', by_hand: false })
}

function removeLevel(place: number) {
  criterion.value.levels.splice(place, 1)
  for (const tie of criterion.value.alignments) tie.cells.splice(place, 1)
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
  <section class="criterion" :aria-label="criterion.title || `Criterion ${index + 1}`">
    <div class="left">
      <b v-if="final">{{ criterion.title }}</b>
      <textarea
        v-else
        v-model="criterion.title"
        class="input plain criterion-title"
        rows="2"
        :aria-label="`Title of criterion ${index + 1}`"
        placeholder="What you look for"
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
          <button
            v-if="!final"
            class="x"
            type="button"
            :aria-label="`Not aligned to ${outcomeOf.get(tie.outcome_id)?.code} any more`"
            @click="unalign(tie.outcome_id)"
          >
            ×
          </button>
        </span>
        <span v-if="!criterion.alignments.length && !criterion.bonus" class="tag clay"
          >no outcome yet</span
        >
      </div>
      <select
        v-if="!final && free.length"
        class="input align"
        :aria-label="`Align ${criterion.title || 'this criterion'} to an outcome`"
        value=""
        @change="align"
      >
        <option value="">Align to an outcome …</option>
        <option v-for="one in free" :key="one.id" :value="one.id">
          {{ one.code }} · {{ one.title }}
        </option>
      </select>
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
        <NPopover v-if="!final" trigger="click" placement="bottom-start">
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
              ><input v-model="criterion.half_way" type="checkbox" /> Half-way marks between
              levels</label
            >
            <p v-for="tie in basis" :key="tie.outcome_id" class="small quiet">
              {{ outcomeOf.get(tie.outcome_id)?.code }}: default {{ BASIS[tie.basis] }}.
            </p>
            <button
              v-if="criterion.kind === 'levels' && criterion.levels.length < 10"
              class="link"
              type="button"
              @click="addLevel"
            >
              Add a level on top
            </button>
            <button class="link" type="button" :disabled="index === 0" @click="emit('move', -1)">
              Move up
            </button>
            <button
              class="link"
              type="button"
              :disabled="index === count - 1"
              @click="emit('move', 1)"
            >
              Move down
            </button>
            <button class="link" type="button" @click="emit('remove')">
              Take this criterion away
            </button>
          </div>
        </NPopover>
        <span v-if="criterion.half_way && criterion.kind === 'levels'">half-way allowed</span>
      </div>
    </div>
    <div class="levels">
      <LevelCell
        v-for="(level, place) in criterion.levels"
        :key="level.key"
        v-model="criterion.levels[place]!"
        :says="saysAt(place)"
        :final="final"
        :removable="criterion.kind === 'levels' && criterion.levels.length > 2"
        :problems="problems"
        :where="`${where}.levels.${place}`"
        :criterion="criterion.title || `criterion ${index + 1}`"
        @remove="removeLevel(place)"
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
  font-size: 12.5px;
  padding: 3px 6px;
  min-height: 28px;
  border-color: var(--line);
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
.menu {
  display: grid;
  gap: 6px;
  justify-items: start;
  max-width: 280px;
}
.menu input {
  width: 18px;
  height: 18px;
  accent-color: var(--ink);
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
