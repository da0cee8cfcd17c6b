<script setup lang="ts">
import { computed } from 'vue'
import type { ComparedCellOut, MethodComparisonOut } from '@/api/schema'
import { several } from '@/design/format'
import { METHODS } from '@/shared/methods/methods'
import { sumOf, type Change, type Sum } from './useComparison'

/** What each method would change, counted, and by name of the one that is looked at. */
const props = defineProps<{
  comparison: MethodComparisonOut
  columns: number[]
  present: number | null
  nameOf: (cell: ComparedCellOut) => string
  /** The setting that an outcome keeps, whichever would be applied; null: that one. */
  keeps: Map<number, number | null>
}>()
const chosen = defineModel<number>('chosen', { required: true })
const MOST = 12
const WORDS: Record<Exclude<Change, '='>, string> = {
  G: 'gain mastery',
  L: 'lose mastery',
  u: 'go up a level',
  d: 'go down a level',
}
const SHORT: Record<Exclude<Change, '='>, string> = { G: 'gain', L: 'lose', u: 'up', d: 'down' }
const ORDER = ['G', 'L', 'u', 'd'] as const
/** What was summed up already; a step of a slider asks for one setting more. */
const known = computed(() => {
  void props.comparison
  void props.keeps
  return new Map<number, Sum>()
})
function sumUnder(setting: number): Sum {
  const { cells } = props.comparison
  const found =
    known.value.get(setting) ?? sumOf(cells, (cell) => props.keeps.get(cell.outcome_id) ?? setting)
  known.value.set(setting, found)
  return found
}
const sums = computed(() =>
  props.columns.map((setting) => ({
    setting,
    method: props.comparison.settings[setting]!,
    sum: sumUnder(setting),
  })),
)
const single = computed(
  () => props.comparison.cells.filter((one) => one.evidence.length === 1).length,
)
function short(sum: Sum): string {
  const parts = ORDER.filter((key) => sum.by[key].length)
  return parts.map((key) => `${sum.by[key].length} ${SHORT[key]}`).join(', ')
}
function names(cells: ComparedCellOut[]): string {
  const shown = cells.slice(0, MOST).map(props.nameOf).join(', ')
  return cells.length > MOST ? `${shown} and ${cells.length - MOST} more` : shown
}
</script>

<template>
  <section aria-label="What would change">
    <h2>What would change</h2>
    <p class="small quiet">
      Nothing, until you apply it. {{ several(comparison.cells.length, 'value')
      }}<template v-if="single"
        >, {{ single }} of a single piece, of which nearly every method says the same</template
      >.
    </p>
    <ul>
      <li v-for="one in sums" :key="one.method.kind" :class="{ chosen: one.setting === chosen }">
        <button type="button" :aria-pressed="one.setting === chosen" @click="chosen = one.setting">
          <b>{{ one.method.name }}</b>
          <span class="push"
            ><b>{{ one.sum.mastered }}</b> mastered</span
          >
        </button>
        <p v-if="one.setting !== chosen" class="small quiet">
          {{ one.setting === present ? 'holds now' : short(one.sum) || 'no level changes' }}
        </p>
        <template v-else>
          <p class="small">{{ METHODS[one.method.kind].means }}</p>
          <p v-if="one.setting === present" class="small quiet">It holds now.</p>
          <p v-else-if="!short(one.sum)" class="small quiet">No level changes.</p>
          <template v-for="key in ORDER" :key="key">
            <p v-if="one.sum.by[key].length" class="small">
              <b :class="{ jade: key === 'G' }">{{ one.sum.by[key].length }} {{ WORDS[key] }}:</b>
              {{ names(one.sum.by[key]) }}
            </p>
          </template>
        </template>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
li {
  display: block;
  border-top: 1px solid var(--line);
  padding: 4px 8px;
}
.chosen {
  background: var(--sunk);
  box-shadow: inset 3px 0 0 var(--ink);
}
button {
  display: flex;
  width: 100%;
  border: 0;
  background: none;
  padding: 2px 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  text-align: left;
}
.jade {
  color: var(--jade-deep);
}
</style>
