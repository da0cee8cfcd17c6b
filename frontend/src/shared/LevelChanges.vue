<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import type { LevelChangeOut, MasteryOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { several } from '@/design/format'
import { useRoute } from 'vue-router'

/** Whose mastery a change would move, and how: the count first, then the first few by name. */
const props = defineProps<{
  changes: LevelChangeOut[]
  scales: Pick<ScaleOut, 'id' | 'levels' | 'mastery_level'>[]
  /** A scale as it would be, where the change is one of the scale. */
  scaleAfter?: Pick<ScaleOut, 'id' | 'levels' | 'mastery_level'>
  most?: number
  /** Any value that moves is listed, not only those that change level. */
  values?: boolean
}>()
const route = useRoute()
/** The class one is in: lines of any other name theirs. */
const home = computed(() => Number(route.params.classId))
const most = computed(() => props.most ?? 8)
const all = ref(false)
const shown = computed(() => (all.value ? props.changes : props.changes.slice(0, most.value)))
const count = (direction: LevelChangeOut['direction']) =>
  props.changes.filter((one) => one.direction === direction).length
const scaleOf = computed(() => new Map(props.scales.map((scale) => [scale.id, scale])))

function ladder(scaleId: number, mastery: MasteryOut, after: boolean) {
  const changed = after && props.scaleAfter?.id === scaleId ? props.scaleAfter : null
  const scale = changed ?? scaleOf.value.get(scaleId)
  return {
    level: mastery.level,
    levels: scale?.levels.length ?? 4,
    masteryLevel: scale?.mastery_level ?? 2,
    uncertain: mastery.state === 'needs-evidence',
    label: mastery.level === null ? 'no evidence' : scale?.levels[mastery.level]?.name,
  }
}

/** The value, or, where the same value would mean something else, what it means. */
function said(one: LevelChangeOut, after: boolean): string {
  if (one.before.value !== one.after.value)
    return (after ? one.after : one.before).value ?? 'no evidence'
  if (one.before.level === one.after.level) {
    const state = (after ? one.after : one.before).state
    return state === 'needs-evidence' ? 'needs evidence' : 'enough evidence'
  }
  const scaleId = after ? one.after_scale_id : one.before_scale_id
  return ladder(scaleId, after ? one.after : one.before, after).label ?? '–'
}
</script>

<template>
  <p v-if="!changes.length" class="small" role="status">
    Nobody’s {{ values ? 'mastery' : 'level' }} would change.
  </p>
  <div v-else role="status">
    <p class="small">
      <b>{{ several(changes.length, values ? 'mastery value' : 'level') }} would change:</b>
      {{ count('up') }} up, {{ count('down') }} down<template v-if="count('level')"
        >, {{ count('level') }} in whether there is enough evidence</template
      >.
    </p>
    <ul class="small" :tabindex="shown.length > 8 ? 0 : undefined" aria-label="Who">
      <li v-for="(one, index) in shown" :key="index">
        <b>{{ one.code }}</b> {{ one.student }}
        <span v-if="one.class_id !== home" class="quiet">in {{ one.class_name }}</span>
        <span class="move">
          <template v-if="one.before.value === one.after.value">{{ one.before.value }}</template>
          <Ladder v-bind="ladder(one.before_scale_id, one.before, false)" :size="14" />{{
            said(one, false)
          }}
          →
          <Ladder v-bind="ladder(one.after_scale_id, one.after, true)" :size="14" />{{
            said(one, true)
          }}
        </span>
      </li>
    </ul>
    <NButton v-if="changes.length > most" class="link" text size="small" @click="all = !all">
      {{ all ? 'Show fewer' : `Show ${changes.length - most} more` }}
    </NButton>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0;
  padding: 0 6px 0 0;
  max-height: 340px;
  overflow: auto;
}
li {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
.move {
  margin-left: auto;
  display: inline-flex;
  gap: 4px;
  align-items: center;
  white-space: nowrap;
}
</style>
