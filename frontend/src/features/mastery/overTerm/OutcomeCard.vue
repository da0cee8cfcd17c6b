<script setup lang="ts">
import { computed } from 'vue'
import type { OutcomeOverTermOut, ScaleOut } from '@/api/schema'
import ClassLadder from '@/design/ClassLadder.vue'
import Tag from '@/design/controls/Tag.vue'
import { several } from '@/design/format'
import SpreadColumns from './SpreadColumns.vue'

/** A class on one outcome: the spread now and over the term, the median, and who moved. */
const props = defineProps<{
  classId: number
  outcome: OutcomeOverTermOut
  scale: ScaleOut
  days: string[]
  /** Those of the class by number, as far as they are named here. */
  students: Map<number, { name: string }>
}>()
const counted = computed(() => props.outcome.now.at_level.reduce((sum, count) => sum + count, 0))
const levels = computed(() =>
  props.scale.levels
    .map((level, at) => ({ name: level.name, count: props.outcome.now.at_level[at]!, at }))
    .reverse(),
)
const label = computed(() => levels.value.map((one) => `${one.count} at ${one.name}`).join(', '))
const MOVES = [
  { key: 'reached', words: 'reached mastery', sign: '✓' },
  { key: 'slipped', words: 'slipped', sign: '▾' },
  { key: 'up', words: 'up a level', sign: '↗' },
  { key: 'down', words: 'down a level', sign: '↘' },
] as const
const moves = computed(() => MOVES.filter((one) => props.outcome.moved[one.key].length))
/** Criteria that may be read unevenly, each said once. */
const uneven = computed(() => {
  const found = new Map<string, { key: string; title: string; low: number; high: number }>()
  for (const { key, title, low, swings } of props.outcome.uneven) {
    const one = found.get(key) ?? { key, title, low: 0, high: 0 }
    found.set(key, { ...one, ...(low ? { low: swings } : { high: swings }) })
  }
  return [...found.values()].map((one) => ({
    ...one,
    where: [
      one.low && `the lowest criterion in ${one.low}`,
      one.high && `the highest in ${one.high}`,
    ]
      .filter(Boolean)
      .join(' and '),
  }))
})
const cell = (student: number) => ({
  name: 'mastery',
  params: { classId: props.classId },
  query: { student, outcome: props.outcome.id },
})
</script>

<template>
  <article :id="`outcome-${outcome.id}`" :aria-labelledby="`title-${outcome.id}`">
    <h3 :id="`title-${outcome.id}`">
      <RouterLink :to="{ name: 'outcome', params: { classId, outcomeId: outcome.id } }">{{
        outcome.code
      }}</RouterLink>
      {{ outcome.title }}
    </h3>
    <div class="now">
      <ClassLadder
        :at-level="outcome.now.at_level"
        :mastery-level="scale.mastery_level"
        :label="label"
      />
      <div>
        <b>{{ outcome.now.mastered }} of {{ counted }}</b> mastered<template
          v-if="outcome.median !== null"
          >, median {{ outcome.median }}</template
        >
        <p class="small quiet">
          <template v-for="(one, at) in levels" :key="one.at"
            >{{ at ? ' · ' : '' }}{{ one.name }} {{ one.count }}</template
          ><template v-if="outcome.now.needing">
            · needs evidence {{ outcome.now.needing }}</template
          ><template v-if="outcome.now.without"> · no evidence {{ outcome.now.without }}</template>
        </p>
      </div>
    </div>
    <SpreadColumns :days="days" :spreads="outcome.over_term" :scale="scale" />
    <p v-if="outcome.not_got"><Tag>not got by the class</Tag></p>
    <details v-for="one in moves" :key="one.key">
      <summary>
        <span :class="{ jade: one.key === 'reached', clay: one.key === 'slipped' }">{{
          one.sign
        }}</span>
        {{ outcome.moved[one.key].length }} {{ one.words }}
      </summary>
      <RouterLink v-for="id in outcome.moved[one.key]" :key="id" :to="cell(id)" class="name">{{
        students.get(id)?.name
      }}</RouterLink>
    </details>
    <p v-if="!moves.length" class="small quiet">Nobody moved.</p>
    <p v-if="outcome.swings" class="small">
      <RouterLink
        :to="{
          name: 'mastery',
          params: { classId },
          query: { sign: 'swings', on: outcome.id },
        }"
        >{{ several(outcome.swings, 'student swings', 'students swing') }} widely</RouterLink
      ><template v-for="(one, at) in uneven" :key="one.key"
        >{{ at ? ';' : '.' }} “{{ one.title }}” is {{ one.where }}</template
      ><template v-if="uneven.length"> of these swings. Is it read evenly?</template>
    </p>
  </article>
</template>

<style scoped>
article {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 14px;
  min-width: 0;
  scroll-margin-top: 20px;
}
h3 {
  font-size: 15px;
  margin: 0 0 6px;
  overflow-wrap: anywhere;
}
.now {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr);
  gap: 10px;
  align-items: start;
  margin-bottom: 8px;
}
details {
  font-size: 14px;
}
summary {
  cursor: pointer;
  padding: 2px 0;
}
.name {
  display: inline-block;
  margin: 0 10px 4px 16px;
}
.jade {
  color: var(--jade-deep);
}
p {
  margin: 4px 0;
}
</style>
