<script setup lang="ts">
import type { CriterionOut } from '@/api/schema'

/** A criterion in one of two revisions; what the other says differently is marked. */
const props = defineProps<{
  criterion: CriterionOut | null
  other: CriterionOut | null
  codes: Map<number, string>
  /** Whether it is the newer of the two, and its number. */
  newer: boolean
  revision: number
}>()

type Level = CriterionOut['levels'][number]
const otherLevel = (key: string) => props.other?.levels.find((one) => one.key === key)
/** What a level is evidence of, outcome by outcome. */
function says(criterion: CriterionOut | null, key: string | undefined): string {
  const place = criterion?.levels.findIndex((one) => one.key === key) ?? -1
  return (criterion?.alignments ?? [])
    .map((tie) => `${props.codes.get(tie.outcome_id)} ${tie.cells[place]?.value ?? 'none'}`)
    .join(' · ')
}
const weight = (one: CriterionOut | null) =>
  one?.bonus ? 'bonus' : one?.weight && `${one.weight}%`
const kind = (one: CriterionOut | null) => (one?.half_way ? 'half-way allowed' : '')
const changed = (level: Level, field: 'name' | 'points' | 'descriptor') =>
  props.other !== null && otherLevel(level.key)?.[field] !== level[field]
</script>

<template>
  <div class="side-of">
    <p class="which small quiet">Revision {{ revision }}</p>
    <p v-if="!criterion" class="quiet">{{ newer ? 'is gone' : 'is not there yet' }}</p>
    <template v-else>
      <p>
        <component :is="newer ? 'ins' : 'del'" v-if="other && other.title !== criterion.title">{{
          criterion.title
        }}</component>
        <b v-else>{{ criterion.title }}</b>
        <span v-for="of in [weight, kind]" :key="of.name" class="small quiet">
          <component :is="newer ? 'ins' : 'del'" v-if="other && of(other) !== of(criterion)">{{
            of(criterion) || (of === weight ? 'no weight' : 'no half-way')
          }}</component>
          <template v-else>{{ of(criterion) }}</template>
        </span>
      </p>
      <ol reversed>
        <li v-for="level in [...criterion.levels].reverse()" :key="level.key">
          <div class="head">
            <component :is="newer ? 'ins' : 'del'" v-if="changed(level, 'name')">{{
              level.name
            }}</component>
            <span v-else class="name">{{ level.name }}</span>
            <component
              :is="newer ? 'ins' : 'del'"
              v-if="changed(level, 'points')"
              class="small push"
              >{{ level.points }}</component
            >
            <span v-else class="small quiet push">{{ level.points }}</span>
          </div>
          <p class="small">
            <component :is="newer ? 'ins' : 'del'" v-if="changed(level, 'descriptor')">{{
              level.descriptor || 'no descriptor'
            }}</component>
            <template v-else>{{ level.descriptor || '–' }}</template>
          </p>
          <p class="small quiet">
            <component
              :is="newer ? 'ins' : 'del'"
              v-if="other && says(criterion, level.key) !== says(other, otherLevel(level.key)?.key)"
              >{{ says(criterion, level.key) || 'no outcome' }}</component
            >
            <template v-else>{{ says(criterion, level.key) }}</template>
          </p>
        </li>
      </ol>
    </template>
  </div>
</template>

<style scoped>
.side-of {
  padding: 9px 12px;
  min-width: 0;
}
.side-of + .side-of {
  border-left: 1px solid var(--line);
}
p > .small {
  margin-left: 8px;
}
@media (min-width: 701px) {
  .which {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
}
ol {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--line);
  padding: 5px 0;
}
.head {
  display: flex;
  gap: 8px;
}
.name {
  font-weight: 650;
}
ins,
del {
  font-weight: 650;
}
ins {
  text-decoration: underline 2px;
  text-underline-offset: 3px;
}
</style>
