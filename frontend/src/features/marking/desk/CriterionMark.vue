<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, useTemplateRef } from 'vue'
import type {
  ChoiceOut,
  CriterionNeedsOut,
  CriterionOut,
  OwnOutcomeOut,
  ScaleOut,
} from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { levelSign, several } from '@/design/format'
import { levelOf } from '@/shared/cells'
import RemarkField from './RemarkField.vue'

/** One criterion at the desk: closed to a line, or open with its levels stacked like rungs. */
const props = defineProps<{
  criterion: CriterionOut
  choice: ChoiceOut | undefined
  remark: string
  /** How many remarks on passages are tied to it. */
  passages: number
  /** The key of the level of the exemplar that stands beside, if one does. */
  agreed?: string | null
  open: boolean
  current: boolean
  ready: boolean
  scales: Map<number, ScaleOut>
  outcomes: Map<number, OwnOutcomeOut>
  /** Of a further attempt: what it has to give so that an outcome is mastered. */
  needs?: readonly CriterionNeedsOut[]
}>()
defineEmits<{
  open: []
  choose: [levelId: number]
  half: []
  'not-assessed': []
  clear: []
  remark: [text: string]
}>()

const topDown = computed(() =>
  props.criterion.levels.map((level, place) => ({ level, place })).toReversed(),
)
const chosenPlace = computed(() =>
  props.criterion.levels.findIndex((level) => level.id === props.choice?.level_id),
)
const chosen = computed(() => props.criterion.levels[chosenPlace.value])
const codes = computed(() =>
  props.criterion.alignments.flatMap((tie) => props.outcomes.get(tie.outcome_id) ?? []),
)
const halfPossible = computed(
  () =>
    props.criterion.half_way &&
    props.criterion.kind === 'levels' &&
    chosenPlace.value >= 0 &&
    chosenPlace.value < props.criterion.levels.length - 1,
)
/** The levels are one stop of the Tab key: the chosen one, or the highest. */
const stop = computed(() =>
  chosenPlace.value >= 0 ? chosenPlace.value : props.criterion.levels.length - 1,
)
const levels = useTemplateRef('levels')

function toLevels() {
  levels.value?.querySelector<HTMLElement>('[tabindex="0"]')?.focus()
}

/** To the next level up or down; it is chosen by its digit, or by pressing it. */
function walk(event: KeyboardEvent, up: 1 | -1) {
  const all = [...(levels.value?.querySelectorAll<HTMLElement>('[role=radio]') ?? [])].reverse()
  all[all.indexOf(event.target as HTMLElement) + up]?.focus()
}

/** What this criterion has to give so that an outcome is mastered. */
function needed(one: CriterionNeedsOut): string {
  if (one.level === null && one.smallest === null)
    return one.followed
      ? 'no level of it reaches mastery any more, since there is evidence after this attempt.'
      : 'no level of it alone reaches mastery yet.'
  const lowest = one.smallest === null ? '' : `the lowest value that does is ${one.smallest}`
  if (one.level === null) return `no level of it alone reaches mastery; ${lowest}.`
  const level = props.criterion.levels[one.level]?.name
  const half = one.half_way ? `half-way up from ${level}` : level
  return `${half} reaches mastery${lowest && `; ${lowest}`}.`
}

/** The ladder of a level: what it is evidence of on the first aligned outcome's scale. */
function ladderAt(place: number) {
  const tie = props.criterion.alignments[0]
  const outcome = tie && props.outcomes.get(tie.outcome_id)
  const scale = outcome && props.scales.get(outcome.scale_id)
  const value = tie?.cells[place]?.value
  if (!scale || !value) return null
  return {
    level: levelOf(value, scale),
    levels: scale.levels.length,
    masteryLevel: scale.mastery_level,
  }
}
</script>

<template>
  <section
    class="criterion"
    :class="{ on: open, current }"
    :data-current="current"
    :aria-label="criterion.title"
  >
    <button class="head" type="button" :aria-expanded="open" @click="$emit('open')">
      <Ladder
        v-if="chosenPlace >= 0 && ladderAt(chosenPlace)"
        v-bind="ladderAt(chosenPlace)!"
        :size="18"
      />
      <b>{{ criterion.title }}</b>
      <span v-for="one in codes" :key="one.id" class="tag" :title="one.title">{{ one.code }}</span>
      <span v-if="criterion.bonus" class="tag">bonus</span>
      <span v-if="passages && !open" class="small quiet">{{ several(passages, 'passage') }}</span>
      <span class="push small state">
        <template v-if="chosen"
          ><span v-if="choice?.carried_from" class="tag carried">carried over</span>
          {{ levelSign(chosen.name, choice?.half_way) }}</template
        >
        <template v-else-if="choice?.not_assessed">not assessed</template>
        <span v-else-if="!criterion.bonus" class="tag clay">to do</span>
        <template v-else>–</template>
      </span>
    </button>
    <div v-if="open" class="body">
      <p v-if="choice?.carried_from" class="small quiet">
        Met in attempt {{ choice.carried_from }} and carried over: it stands as it was. Choose a
        level to mark it anew.
      </p>
      <p v-for="one in needs" :key="one.code" class="small">
        <b>{{ one.code }}:</b> {{ needed(one) }}
      </p>
      <div
        ref="levels"
        role="radiogroup"
        :aria-label="`Level for ${criterion.title}`"
        @keydown.right.prevent="walk($event, 1)"
        @keydown.left.prevent="walk($event, -1)"
      >
        <button
          v-for="{ level, place } in topDown"
          :key="level.id"
          class="rung"
          type="button"
          role="radio"
          :tabindex="place === stop ? 0 : -1"
          :aria-checked="level.id === choice?.level_id"
          :disabled="!ready"
          @click="($emit('open'), $emit('choose', level.id))"
        >
          <kbd>{{ place + 1 }}</kbd>
          <Ladder v-if="ladderAt(place)" v-bind="ladderAt(place)!" :size="15" />
          <span v-else class="no-ladder" />
          <b>{{ level.name }}</b>
          <span class="descriptor"
            >{{ level.descriptor
            }}<span v-if="agreed === level.key" class="tag agreed">the exemplar</span></span
          >
          <span class="quiet small">{{ level.points }}</span>
        </button>
      </div>
      <div class="row extras small">
        <label
          v-if="criterion.half_way && criterion.kind === 'levels'"
          class="row"
          :class="{ off: !halfPossible }"
        >
          <input
            type="checkbox"
            :checked="choice?.half_way ?? false"
            :disabled="!halfPossible"
            @change="$emit('half')"
          />
          half-way up <kbd>.</kbd>
        </label>
        <label class="row">
          <input
            type="checkbox"
            :checked="choice?.not_assessed ?? false"
            :disabled="!ready"
            @change="choice?.not_assessed ? $emit('clear') : $emit('not-assessed')"
          />
          not assessed <kbd>0</kbd>
        </label>
        <NButton
          v-if="(chosen || choice?.not_assessed) && !choice?.carried_from"
          class="link"
          text
          :disabled="!ready"
          @click="$emit('clear')"
          >clear <kbd>Backspace</kbd></NButton
        >
        <span v-if="criterion.weight" class="quiet push">weight {{ criterion.weight }}%</span>
      </div>
      <RemarkField
        v-if="criterion.remarks || remark"
        label="Remark"
        :hints="['C', 'B']"
        :text="remark"
        :disabled="!ready"
        @save="$emit('remark', $event)"
        @leave="toLevels"
      />
      <slot />
    </div>
  </section>
</template>

<style scoped>
.criterion {
  border-bottom: 1px solid var(--line);
}
.criterion.on {
  background: var(--paper);
}
.criterion.current {
  box-shadow: inset 3px 0 0 var(--ink);
}
.head:focus-visible {
  outline-offset: -3px;
}
.head {
  width: 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 9px;
  align-items: center;
  border: 0;
  background: none;
  padding: 10px 16px;
  text-align: left;
  cursor: pointer;
}
.head b {
  font-weight: 650;
}
.state {
  color: var(--ink-2);
}
.body {
  padding: 0 16px 12px;
}
.rung {
  width: 100%;
  display: grid;
  grid-template-columns: 22px 18px 88px 1fr auto;
  gap: 8px;
  padding: 7px 9px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--card);
  margin-bottom: 5px;
  font-size: 13px;
  align-items: baseline;
  text-align: left;
  cursor: pointer;
  line-height: 1.35;
}
.rung:hover {
  border-color: var(--edge);
}
.rung[aria-checked='true'] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.rung[aria-checked='true'] b::after {
  content: ' ✓';
}
.rung .ladder {
  align-self: center;
}
.descriptor {
  overflow-wrap: anywhere;
}
.agreed {
  margin-left: 6px;
}
.extras {
  margin: 4px 0 8px;
  flex-wrap: wrap;
}
.extras .row {
  gap: 6px;
}
.extras input {
  width: 16px;
  height: 16px;
  accent-color: var(--ink);
}
.off {
  color: var(--ink-3);
}
@media (pointer: coarse), (max-width: 760px) {
  .rung {
    min-height: 44px;
    grid-template-columns: 18px 92px 1fr auto;
  }
  .rung kbd {
    display: none;
  }
  .extras input {
    width: 24px;
    height: 24px;
  }
  .extras .row {
    min-height: 44px;
  }
}
</style>
