<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { WallOut } from '@/api/schema'
import Popover from '@/design/controls/Popover.vue'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'
import {
  levelsOf,
  matching,
  signsOf,
  type Shown,
  type WallColumn,
  type WallRow,
  type WallView,
} from './wall'

/** What of the wall is shown, and how: names, strands, words with a number, cells, columns. */
const props = defineProps<{
  wall: WallOut
  /** All rows of the class, and the columns that are shown. */
  rows: WallRow[]
  columns: WallColumn[]
  view: WallView
}>()
const emit = defineEmits<{ change: [to: Partial<WallView>] }>()
const signs = computed(() => signsOf(props.wall.thin_below))
const levels = computed(() => levelsOf(props.wall))
function count(sign: string): number {
  let found = 0
  for (const row of props.rows) for (const one of props.columns) found += matching(row, one, sign)
  return found
}
const counts = computed(() => {
  const all = [...Object.keys(signs.value), ...levels.value.map((one) => one.sign)]
  return new Map(all.map((sign) => [sign, count(sign)]))
})
const strands = computed(() => {
  const used = new Set(props.wall.outcomes.map((one) => one.strand_id))
  return props.wall.strands.filter((one) => used.has(one.id))
})
const SHOWN: Record<Shown, string> = {
  ladder: 'ladder and value',
  value: 'value',
  direction: 'ladder and direction',
  pieces: 'ladder and pieces of evidence',
}
const model = <Key extends keyof WallView>(key: Key) =>
  computed({
    get: () => props.view[key],
    set: (value: WallView[Key]) => emit('change', { [key]: value } as Partial<WallView>),
  })
const name = model('name')
const sign = computed({
  get: () => props.view.sign,
  set: (chosen) => emit('change', { sign: chosen, on: null }),
})
/** The outcome that a link asks the word of. */
const on = computed(() => props.wall.outcomes.find((one) => one.id === props.view.on))
const strand = model('strand')
const show = model('show')
function toggle(id: number, on: boolean) {
  const hidden = props.view.hidden.filter((one) => one !== id)
  emit('change', { hidden: on ? hidden : [...hidden, id] })
}
const groups = computed(() => [
  ...strands.value.map((one) => ({
    title: one.title,
    outcomes: props.wall.outcomes.filter((outcome) => outcome.strand_id === one.id),
  })),
  { title: '', outcomes: props.wall.outcomes.filter((one) => one.strand_id === null) },
])
/** What a strand comes to is the class's, for all who teach it; the rest is in the address. */
const { problem, send } = useSending(useRefresh().outcomes)
const rollUp = computed({
  get: () => props.wall.strand_roll_up,
  set: (strand_roll_up: WallOut['strand_roll_up']) =>
    void send(() =>
      ask(
        api.PUT('/api/classes/{class_id}/strand-roll-up', {
          params: { path: { class_id: props.wall.class_id } },
          body: { strand_roll_up, version: props.wall.class_version },
        }),
      ),
    ),
})
const means = computed(() => signs.value[props.view.sign]?.means ?? '')
</script>

<template>
  <div class="tools" role="group" aria-label="What the wall shows">
    <TextField
      v-model="name"
      label="Find a student"
      bare
      type="search"
      placeholder="Find a student"
      class="find"
    />
    <SelectField v-model="sign" label="Filter" bare>
      <option value="">Every student</option>
      <option v-for="(one, key) in signs" :key="key" :value="key">
        {{ one.name }} ({{ counts.get(key) }})
      </option>
      <option v-for="one in levels" :key="one.sign" :value="one.sign">
        at {{ one.name }} ({{ counts.get(one.sign) }})
      </option>
    </SelectField>
    <SelectField v-model="strand" label="Strand" bare>
      <option :value="null">Every strand</option>
      <option v-for="one in strands" :key="one.id" :value="one.id">{{ one.title }}</option>
    </SelectField>
    <Popover
      label="View: cells and columns"
      :text="view.hidden.length ? `View (${view.hidden.length} hidden)` : 'View'"
    >
      <div class="columns">
        <SelectField v-model="show" label="What cells show">
          <option v-for="(words, key) in SHOWN" :key="key" :value="key">{{ words }}</option>
        </SelectField>
        <NCheckbox
          :checked="view.dense"
          @update:checked="(on: boolean) => emit('change', { dense: on })"
          >Dense</NCheckbox
        >
        <SelectField v-model="rollUp" label="A folded strand says">
          <option value="mean">the mean of its outcomes</option>
          <option value="lowest">the lowest of its outcomes</option>
        </SelectField>
        <FormProblem :problem="problem" />

        <template v-for="group in groups" :key="group.title">
          <h3 v-if="group.title && group.outcomes.length">{{ group.title }}</h3>
          <NCheckbox
            v-for="one in group.outcomes"
            :key="one.id"
            :checked="!view.hidden.includes(one.id)"
            @update:checked="(on: boolean) => toggle(one.id, on)"
            >{{ one.code }} {{ one.title }}</NCheckbox
          >
        </template>
        <NButton
          size="small"
          :disabled="!view.hidden.length"
          @click="emit('change', { hidden: [] })"
          >Show all</NButton
        >
      </div>
    </Popover>
    <span v-if="means" class="small quiet means" role="status"
      >{{ signs[view.sign]!.name }}<template v-if="on"> on {{ on.code }}</template
      >: {{ means }}
      <NButton v-if="on" text class="any" @click="emit('change', { on: null })"
        >on any outcome</NButton
      ></span
    >
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  /* As wide as there is room: a long explanation below does not push what stands beside it. */
  flex: 1 1 460px;
  min-width: 0;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  padding-bottom: 8px;
}
.tools :deep(.field) {
  margin: 0;
}
.find {
  width: 150px;
}
.columns {
  display: grid;
  gap: 4px;
  max-height: 60vh;
  overflow: auto;
  min-width: 240px;
}
.any {
  text-decoration: underline;
}
.means {
  flex-basis: 100%;
}
</style>
