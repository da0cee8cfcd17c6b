<script setup lang="ts">
import { levelSign } from '@/design/format'
import { provide } from 'vue'
import type { ExemplarOut } from '@/api/schema'
import WorkParts from '@/shared/files/WorkParts.vue'
import { PASSAGES } from '@/shared/passages/passages'

/** An exemplar beside the work that is marked: the work, and the levels that are agreed. */
defineProps<{ one: ExemplarOut }>()
// Nothing is remarked in it here.
provide(PASSAGES, null)
</script>

<template>
  <aside class="exemplar" :aria-label="`Exemplar: ${one.title}`" tabindex="0">
    <h2>{{ one.title }}</h2>
    <p class="small quiet">
      An exemplar from {{ one.task }}. Agreed:
      {{ one.levels.map((each) => levelSign(each.level, each.half_way)).join(', ') }}
    </p>
    <WorkParts v-if="one.parts.length" class="parts" :parts="one.parts" />
    <p v-else class="quiet">Nothing was handed in on screen.</p>
  </aside>
</template>

<style scoped>
.exemplar {
  min-width: 0;
  padding: 10px 14px;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--sunk);
  overflow: auto;
}
.parts {
  margin-top: 8px;
}
</style>
