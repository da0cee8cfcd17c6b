<script setup lang="ts">
import { computed } from 'vue'
import type { LevelChangeOut, MasteryOut, MethodPreviewOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { several } from '@/design/format'

/** What a method means on scales cut at the values, and whose level it would change. */
const props = defineProps<{ preview: MethodPreviewOut; scales: ScaleOut[]; dirty: boolean }>()
defineEmits<{ 'cut-three-quarters': [] }>()
const MOST = 8
const up = computed(() => props.preview.changes.filter((one) => one.rises).length)
const down = computed(
  () =>
    props.preview.changes.filter((one) => Number(one.after.value) < Number(one.before.value))
      .length,
)
const scaleOf = computed(() => new Map(props.scales.map((scale) => [scale.id, scale])))

function ladder(change: LevelChangeOut, mastery: MasteryOut) {
  const scale = scaleOf.value.get(change.scale_id)
  return {
    level: mastery.level,
    levels: scale?.levels.length ?? 4,
    masteryLevel: scale?.mastery_level ?? 2,
    uncertain: mastery.state === 'needs-evidence',
    label: mastery.level === null ? 'no evidence' : scale?.levels[mastery.level]?.name,
  }
}
</script>

<template>
  <div v-for="cut in preview.hard_cuts" :key="cut.scale" class="notice clay">
    <b>{{ cut.scale }} is cut at the values.</b> Under an average, after one “{{ cut.below }}” it
    takes
    <template v-if="cut.pieces">{{ several(cut.pieces, 'piece') }} of “{{ cut.level }}”</template>
    <template v-else>more than 200 pieces of “{{ cut.level }}”</template>
    to be at mastery.
    <button class="link" type="button" @click="$emit('cut-three-quarters')">
      Cut three quarters of the way up
    </button>
  </div>
  <template v-if="dirty">
    <p v-if="!preview.changes.length" class="small" role="status">Nobody’s level would change.</p>
    <div v-else role="status">
      <p class="small">
        <b>{{ several(preview.changes.length, 'level') }} would change:</b>
        {{ up }} up, {{ down }} down<template v-if="up + down < preview.changes.length"
          >, {{ preview.changes.length - up - down }} in whether there is enough evidence</template
        >.
      </p>
      <ul class="small">
        <li v-for="(one, index) in preview.changes.slice(0, MOST)" :key="index">
          <b>{{ one.code }}</b> {{ one.student }}
          <span class="move">
            <Ladder v-bind="ladder(one, one.before)" :size="14" />{{ one.before.value ?? '–' }} →
            <Ladder v-bind="ladder(one, one.after)" :size="14" />{{ one.after.value ?? '–' }}
          </span>
        </li>
      </ul>
      <p v-if="preview.changes.length > MOST" class="small quiet">
        and {{ preview.changes.length - MOST }} more
      </p>
    </div>
  </template>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
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
