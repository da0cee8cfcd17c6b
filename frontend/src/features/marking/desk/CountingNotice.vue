<script setup lang="ts">
import { levelWords } from '@/design/format'
import type { CountingOut } from '@/api/schema'

/** The rubric was revised after this was marked: what counts until it is finished anew. */
defineProps<{ counting: CountingOut }>()
</script>

<template>
  <details class="notice">
    <summary>
      Marked under revision {{ counting.revision }} of the rubric, which counts until you finish
      this one.
    </summary>
    <ul class="small">
      <li v-for="one in counting.choices" :key="one.criterion">
        {{ one.criterion }}: <b>{{ levelWords(one.level ?? 'not assessed', one.half_way) }}</b>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.notice {
  margin: 10px 16px;
}
ul {
  margin: 6px 0 0;
  padding-left: 18px;
}
</style>
