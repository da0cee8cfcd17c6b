<script setup lang="ts">
import type { CriterionForStudentOut } from '@/api/schema'

/** What counts, before the work: criteria with their weights, and what each level looks like. */
defineProps<{ criteria: CriterionForStudentOut[] }>()
</script>

<template>
  <section v-for="one in criteria" :key="one.id" class="criterion" :aria-label="one.title">
    <h3>
      {{ one.title }}
      <span v-if="one.weight !== null" class="quiet small">{{ one.weight }}% of the total</span>
      <span v-else-if="one.bonus" class="quiet small">bonus</span>
    </h3>
    <ol reversed>
      <li
        v-for="(level, at) in [...one.levels].reverse()"
        :key="level.id"
        :class="{ met: one.levels.length - 1 - at === one.met_level }"
      >
        <b>{{ level.name }}</b>
        <span v-if="level.points !== null" class="quiet small"
          >&nbsp;{{ level.points }} {{ level.points === '1' ? 'point' : 'points' }}</span
        >
        <span v-if="one.levels.length - 1 - at === one.met_level" class="small met-word">
          met from here</span
        >
        <p v-if="level.descriptor">{{ level.descriptor }}</p>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.criterion {
  margin-bottom: 16px;
}
h3 span {
  font-family: var(--body);
  font-weight: 400;
}
ol {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  border-left: 2px solid var(--edge);
}
li {
  padding: 5px 0 5px 12px;
  border-bottom: 1px solid var(--line);
}
li.met {
  border-bottom: 2px solid var(--jade);
}
.met-word {
  color: var(--jade-deep);
  font-weight: 650;
}
</style>
