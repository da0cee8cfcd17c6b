<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import type { ScaleOut, TaskEffectOut } from '@/api/schema'
import LevelChanges from '@/shared/LevelChanges.vue'
import { several } from '@/design/format'

/** What a revision would do to one task, and whether the task is to be put on it. */
const props = defineProps<{
  effect: TaskEffectOut
  to: number
  chosen: boolean
  scales: ScaleOut[]
}>()
defineEmits<{ choose: [on: boolean] }>()

const moves = computed(() => props.effect.moves.classes.flatMap((one) => one.changes))
const unfinished = computed(
  () => props.effect.marks - props.effect.carried - props.effect.staying.length,
)
const differing = computed(() => props.effect.points_before !== props.effect.points_after)

/** A total, with what it is out of where that is not said above for all of them. */
function total(value: string | null, of: string | null): string {
  if (value === null) return 'none'
  const whole = [props.effect.points_before, props.effect.points_after]
  return differing.value || !whole.includes(of ?? '') ? `${value} of ${of}` : value
}
const moved = computed(() => moves.value.length + props.effect.moves.elsewhere)
</script>

<template>
  <tr class="effect">
    <td class="choice">
      <NCheckbox :checked="chosen" @update:checked="$emit('choose', $event)"
        ><span>
          <b>{{ effect.title }}</b>
          <span class="small quiet block"
            >{{ effect.class_name }}, {{ chosen ? 'goes from' : 'stays on' }} revision
            {{ effect.revision }}{{ chosen ? ` to ${to}` : '' }}</span
          >
        </span></NCheckbox
      >
    </td>
    <td>
      <template v-if="!effect.marks">none yet</template>
      <template v-else>
        {{ effect.carried }} of {{ effect.marks }} carried over whole
        <span v-if="unfinished" class="small quiet block">{{ unfinished }} not finished yet</span>
        <details v-if="effect.staying.length" class="small">
          <summary class="clay">
            {{ several(effect.staying.length, 'mark counts', 'marks count') }} as now until you
            finish {{ effect.staying.length === 1 ? 'it' : 'them' }} anew
          </summary>
          <span v-for="one in effect.staying" :key="one.student" class="block"
            >{{ one.student
            }}<template v-if="one.unmarked.length">: {{ one.unmarked.join(', ') }}</template></span
          >
        </details>
      </template>
    </td>
    <td>
      <span v-if="effect.points_before !== effect.points_after" class="small quiet block"
        >out of {{ effect.points_before }} → {{ effect.points_after }}</span
      >
      <span v-if="!effect.totals.length" class="quiet">no total changes</span>
      <details v-else>
        <summary>{{ several(effect.totals.length, 'total changes', 'totals change') }}</summary>
        <span v-for="one in effect.totals" :key="one.student" class="small block"
          >{{ one.student }}: {{ total(one.before, one.before_of) }} →
          {{ total(one.after, one.after_of) }}
          <span v-if="one.stays" class="quiet"
            >at the desk; the first counts until you finish it anew</span
          ><span v-else-if="!one.finished" class="quiet">so far, not finished</span></span
        >
      </details>
    </td>
    <td class="mastery">
      <span v-if="!moved" class="quiet">nobody’s mastery moves</span>
      <details v-else>
        <summary>{{ several(moved, 'value moves', 'values move') }}</summary>
        <LevelChanges :changes="moves" :scales="scales" :most="60" values />
        <span v-if="effect.moves.elsewhere" class="small quiet"
          >{{ effect.moves.elsewhere }} in classes of colleagues</span
        >
      </details>
    </td>
  </tr>
</template>

<style scoped>
tr.effect td {
  vertical-align: top;
}
.block {
  display: block;
}
.choice {
  min-width: 200px;
}
.row {
  align-items: flex-start;
  gap: 9px;
}
.row input {
  margin-top: 3px;
}
.mastery {
  min-width: 230px;
}
</style>
