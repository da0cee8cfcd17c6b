<script setup lang="ts">
import Tag from '@/design/controls/Tag.vue'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useSession } from '@/shared/session'
import type { CriterionOut, MasteryOut, MoveOut, ScaleOut, MarkOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { clock, several } from '@/design/format'
import type { Save } from '@/shared/saving/saves'
import WaitingSaves from '@/shared/saving/WaitingSaves.vue'
import { useSaves } from '@/shared/saving/useSaves'
import AdjustTotal from './AdjustTotal.vue'

/** The foot of the desk: the total so far, what is unfinished, how each outcome moves. */
const props = defineProps<{
  taskId: number
  mark: MarkOut | undefined
  left: CriterionOut[]
  refused: Save[]
  nameOf: (studentId: number) => string
  sides: (save: Save) => { mine: string; there: string } | null
  said: string
  /** What the main button says where it does not finish. */
  onto?: string
  scales: Map<number, ScaleOut>
}>()
defineEmits<{
  finish: []
  history: []
  decide: [save: Save, again: boolean]
  adjusted: [mark: MarkOut]
}>()
const { timeZone } = useSession()
const saves = useSaves()
const total = computed(() => props.mark?.total)
const extra = computed(
  () => total.value?.lines.filter((line) => ['bonus', 'adjustment'].includes(line.kind)) ?? [],
)
const late = computed(() => total.value?.lines.find((line) => line.kind === 'late'))
const signed = (amount: string) => (amount.startsWith('-') ? `−${amount.slice(1)}` : `+${amount}`)
const adjusting = ref(false)
watch(
  () => props.mark?.student.id,
  () => (adjusting.value = false),
)

function reaches(move: MoveOut): string {
  if (move.after.state === 'needs-evidence') return 'needs more evidence'
  if (move.after.state === 'mastered' && move.before.state !== 'mastered') return 'reaches mastery'
  if (move.after.state !== 'mastered' && move.before.state === 'mastered')
    return 'slips below mastery'
  return ''
}

function described(mastery: MasteryOut, scaleId: number): string {
  return mastery.level === null
    ? 'no evidence'
    : (props.scales.get(scaleId)?.levels[mastery.level]?.name ?? '')
}
</script>

<template>
  <div class="foot">
    <WaitingSaves
      :mine="refused"
      :name-of="nameOf"
      :sides="sides"
      @decide="(save, again) => $emit('decide', save, again)"
    />
    <AdjustTotal
      v-if="adjusting && mark"
      :task-id="taskId"
      :mark="mark"
      @saved="($emit('adjusted', $event), (adjusting = false))"
      @close="adjusting = false"
    />
    <div class="row line">
      <span v-if="total && !mark?.choices.length && total.by_hand === null" class="quiet"
        >Nothing marked yet</span
      >
      <template v-else-if="total">
        <span class="quiet">{{
          saves.state === 'gone' ? 'As saved' : total.finished ? 'Total' : 'So far'
        }}</span>
        <b class="total">{{ total.value }}</b>
        <span class="quiet">of {{ total.out_of }}</span>
        <Tag v-if="total.by_hand !== null" tone="plum">{{
          total.calculated === null ? 'set by hand' : `set by hand, calculated ${total.calculated}`
        }}</Tag>
        <Tag v-for="line in extra" :key="line.reason" tone="plum"
          >{{ line.reason }} {{ signed(line.amount) }}</Tag
        >
        <Tag v-if="late" tone="clay">late {{ signed(late.amount) }}</Tag>
        <Tag v-if="total.waived" tone="plum">late {{ signed(total.waived.amount) }}, waived</Tag>
      </template>
      <span v-else class="quiet">No total</span>
      <NButton
        v-if="mark && !adjusting"
        class="link small"
        text
        :disabled="saves.state !== 'idle'"
        @click="adjusting = true"
        >Adjust</NButton
      >
      <span class="small push saved" role="status" :class="{ clay: saves.state === 'gone' }">
        <template v-if="saves.state === 'saving'">Saving …</template>
        <template v-else-if="saves.state === 'gone'">{{ saves.waiting.length }} not saved</template>
        <template v-else-if="mark?.saved_at">Saved {{ clock(mark.saved_at, timeZone) }}</template>
      </span>
      <NButton v-if="mark?.saved_at" class="link small" text @click="$emit('history')"
        >History <kbd>H</kbd></NButton
      >
    </div>
    <NButton class="finish" type="primary" :disabled="!mark" @click="$emit('finish')">
      {{ onto || 'Finish and next' }} <kbd>Ctrl Enter</kbd>
    </NButton>
    <p class="small" role="status">
      <span v-if="said" class="clay">{{ said }} <slot /></span>
      <span v-else-if="!mark" class="quiet">Loading …</span>
      <span v-else-if="mark?.finished"
        >Finished: this counts. A change counts once it is finished again.</span
      >
      <span v-else-if="left.length" :class="{ clay: !onto }"
        >{{ several(left.length, 'criterion', 'criteria') }} still to mark.</span
      >
      <span v-else-if="mark">All marked; finish, and it counts.</span>
    </p>
    <ul v-if="mark?.moves.length" class="small" aria-label="How this mark moves each outcome">
      <li v-for="move in mark.moves" :key="move.outcome_id">
        <b>{{ move.code }}</b>
        <template v-if="move.before.value === move.after.value">
          stays {{ move.after.value }}</template
        >
        <template v-else>
          {{ move.before.value ?? 'no evidence' }} → {{ move.after.value ?? 'no evidence' }}
        </template>
        <Ladder
          :level="move.after.level"
          :levels="scales.get(move.scale_id)?.levels.length ?? 4"
          :mastery-level="scales.get(move.scale_id)?.mastery_level ?? 2"
          :uncertain="move.after.state === 'needs-evidence'"
          :size="14"
          :label="described(move.after, move.scale_id)"
        />
        <Tag v-if="reaches(move)" :tone="reaches(move) === 'reaches mastery' ? 'jade' : 'clay'">{{
          reaches(move)
        }}</Tag>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.foot {
  padding: 10px 16px 12px;
  border-top: 1px solid var(--line);
  background: var(--card);
  display: grid;
  gap: 7px;
}
.line {
  align-items: baseline;
  gap: 8px;
  flex-wrap: wrap;
}
.total {
  font: 560 22px var(--head);
}
.finish {
  width: 100%;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 3px 14px;
}
li {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  white-space: nowrap;
}
@media (max-width: 760px) {
  .foot {
    position: sticky;
    bottom: 0;
  }
}
</style>
