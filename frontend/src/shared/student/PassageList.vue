<script setup lang="ts">
import type { FeedbackOut } from '@/api/schema'
import FeedbackItem from './FeedbackItem.vue'
import { passageId, remarkId } from '@/shared/passages/paint'
import { showPlace } from '@/shared/passages/showPlace'
import { briefOf, usePassageContext, type Numbered } from '@/shared/passages/passages'

/** Remarks on passages, each leading to its place in the work and back. */
defineProps<{ passages: Numbered[]; feedback: FeedbackOut[]; own: boolean }>()
const context = usePassageContext()!

async function show(one: Numbered) {
  const there = await showPlace(context, one)
  const link = there?.matches('a')
    ? there
    : document.querySelector<HTMLElement>(`[data-passage="${one.key}"]`)
  link?.focus({ preventScroll: true })
}
</script>

<template>
  <ol class="passages" aria-label="Remarks in the work">
    <li v-for="one in passages" :id="remarkId(one.key)" :key="one.key" tabindex="-1">
      <a
        class="number"
        :href="`#${passageId(one.key)}`"
        :aria-label="`Remark ${one.number}: to its place in the work`"
        @click.prevent="show(one)"
        >{{ one.number }}</a
      >
      <p>
        <span class="words" dir="auto">{{ one.text }}</span>
        <span class="small quiet" dir="auto">
          on {{ briefOf(one.place)
          }}<template v-if="context.lost.has(one.key)"
            >, which is not there any more</template
          ></span
        >
      </p>
      <FeedbackItem
        v-for="file in feedback.filter((each) => each.passage_key === one.key)"
        :key="file.id"
        class="file"
        :one="file"
        :own="own"
      />
    </li>
  </ol>
</template>

<style scoped>
.passages {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 9px;
  scroll-margin: 80px;
}
li:target,
li:focus {
  outline: 2px solid var(--focus);
  outline-offset: 3px;
  border-radius: 4px;
}
.number {
  font: 700 12px/24px var(--body);
  min-width: 24px;
  height: 24px;
  padding: 0 5px;
  border-radius: 12px;
  background: var(--ink);
  color: var(--on-ink);
  text-align: center;
  text-decoration: none;
}
.file {
  grid-column: 2;
}
.words {
  display: block;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
@media (pointer: coarse) {
  .number {
    min-width: 44px;
    height: 44px;
    line-height: 44px;
    border-radius: 22px;
  }
}
</style>
