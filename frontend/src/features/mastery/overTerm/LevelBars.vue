<script setup lang="ts">
import { computed } from 'vue'
import { several } from '@/design/format'

/** How often each level of a criterion was chosen, the highest on top, with its number beside it. */
const props = defineProps<{ levels: string[]; counts: number[]; half: number[]; small?: boolean }>()
const most = computed(() => Math.max(1, ...props.counts))
const bars = computed(() =>
  props.levels
    .map((name, at) => ({ name, count: props.counts[at]!, half: props.half[at]! }))
    .reverse(),
)
</script>

<template>
  <ul :class="{ small }">
    <li v-for="one in bars" :key="one.name">
      <span class="level">{{ one.name }}</span>
      <span class="bar" aria-hidden="true"
        ><i :style="{ width: `${(one.count / most) * 100}%` }"
      /></span>
      <span
        >{{ one.count
        }}<span v-if="one.half" class="quiet" :title="`${several(one.half, 'mark')} half-way up`">
          ({{ one.half }} half-way up)</span
        ></span
      >
    </li>
  </ul>
</template>

<style scoped>
/* One grid, so that all bars begin at one place. */
ul {
  display: grid;
  grid-template-columns: fit-content(110px) minmax(30px, 90px) auto;
  gap: 0 8px;
  align-items: center;
  list-style: none;
  margin: 4px 0;
  padding: 0;
  font-size: 13px;
  line-height: 1.35;
  white-space: nowrap;
}
li {
  display: contents;
}
.level {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar i {
  display: block;
  height: 9px;
  min-width: 1px;
  background: var(--ink-2);
}
</style>
