<script setup lang="ts">
import { computed } from 'vue'
import type { StudentAtTaskOut } from '@/api/schema'
import { GROUPS, inGroup, type Group } from './groups'

/** How far a task is: a bar of where everybody stands, and its legend, which chooses whom to show. */
const props = defineProps<{ students: StudentAtTaskOut[] }>()
const chosen = defineModel<Group>({ required: true })
const counts = computed(() =>
  GROUPS.map((group) => ({
    ...group,
    count: props.students.filter((one) => inGroup(one, group.name)).length,
  })).filter((group) => group.name === 'all' || group.count),
)
const parts = computed(() => counts.value.filter((group) => group.tone))
</script>

<template>
  <div>
    <div class="bar" aria-hidden="true">
      <i v-for="one in parts" :key="one.name" :class="one.tone" :style="{ flexGrow: one.count }" />
    </div>
    <div class="legend" role="group" aria-label="Show">
      <button
        v-for="one in counts"
        :key="one.name"
        type="button"
        :aria-pressed="chosen === one.name"
        :class="{ clay: one.tone === 'clay' }"
        @click="chosen = one.name"
      >
        <i v-if="one.tone" :class="one.tone" aria-hidden="true" />{{ one.label }} {{ one.count }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 2px;
  height: 9px;
  border-radius: 5px;
  overflow: hidden;
  margin: 4px 0 10px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  font: inherit;
  font-size: 13px;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 16px;
  padding: 3px 11px;
  cursor: pointer;
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
button[aria-pressed='true'] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
  font-weight: 700;
}
button.clay {
  color: var(--clay);
}
.legend i {
  width: 9px;
  height: 9px;
  border-radius: 2px;
}
.ink {
  background: var(--ink);
}
.soft {
  background: var(--ink-3);
}
.edge {
  background: var(--edge);
}
.bar .clay,
.legend i.clay {
  background: var(--clay);
}
.line {
  background: var(--line);
}
.sunk {
  background: repeating-linear-gradient(45deg, var(--edge) 0 1px, transparent 1px 4px);
}
@media (pointer: coarse) {
  button {
    min-height: 44px;
  }
}
</style>
