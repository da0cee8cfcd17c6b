<script setup lang="ts">
import { computed } from 'vue'
import type { TaskEffectsOut } from '@/api/schema'
import { several } from '@/design/format'
import Notice from '@/design/telling/Notice.vue'
import LevelChanges from '@/shared/LevelChanges.vue'
import { useScales } from '@/shared/scales'

/** What a change to a task would do to its marks, before it is made. */
const props = defineProps<{ effects: TaskEffectsOut }>()
const { data: scales } = useScales()
const levels = computed(() => props.effects.levels.classes.flatMap((one) => one.changes))
const total = (value: string | null, of: string | null) =>
  value === null ? 'none' : `${value} of ${of}`
</script>

<template>
  <Notice clay class="effects" role="status">
    <p><b>This changes what is marked.</b></p>
    <template v-if="effects.totals.length">
      <p>
        {{ several(effects.totals.length, 'total changes', 'totals change') }};
        {{
          effects.seen
            ? `${several(effects.seen, 'student sees', 'students see')} theirs at once.`
            : 'no student sees them yet.'
        }}
        <template v-if="!levels.length">Levels and evidence stay.</template>
      </p>
      <ul class="small totals" aria-label="Totals" tabindex="0">
        <li v-for="one in effects.totals" :key="one.student">
          {{ one.student }}: {{ total(one.before, one.before_of) }} →
          <b>{{ total(one.after, one.after_of) }}</b>
        </li>
      </ul>
    </template>
    <p v-if="effects.late.length">Late by it: {{ effects.late.join(', ') }}.</p>
    <p v-if="effects.not_late.length">No longer late: {{ effects.not_late.join(', ') }}.</p>
    <LevelChanges v-if="levels.length && scales" :changes="levels" :scales="scales" />
    <p v-if="effects.levels.elsewhere" class="small quiet">
      {{ several(effects.levels.elsewhere, 'level') }} more in classes of colleagues.
    </p>
  </Notice>
</template>

<style scoped>
.effects {
  margin-bottom: 12px;
}
.totals {
  margin: 0;
  padding-left: 18px;
  max-height: 160px;
  overflow-y: auto;
}
</style>
