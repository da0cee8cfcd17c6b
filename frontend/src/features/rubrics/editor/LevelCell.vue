<script setup lang="ts">
import { vOneStop } from '@/design/oneStop'
import { computed } from 'vue'
import type { OwnOutcomeOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { levelOf } from '@/shared/cells'
import type { DraftCell, DraftLevel } from './criteria'

/** A cell: name, points, descriptor, and the value it is evidence of for each aligned outcome. */
const level = defineModel<DraftLevel>({ required: true })
const props = defineProps<{
  says: { outcome: OwnOutcomeOut; cell: DraftCell; scale: ScaleOut | undefined }[]
  final: boolean
  changeable: boolean
  place: number
  count: number
  problems: Map<string, string>
  where: string
  criterion: string
}>()
const emit = defineEmits<{ remove: []; move: [by: number]; insert: []; renamed: [] }>()

const shown = computed(() =>
  props.says.map((one) => ({
    ...one,
    level: one.scale ? levelOf(one.cell.value, one.scale) : null,
  })),
)
const mastery = computed(() =>
  shown.value.some(
    (one) => one.level !== null && one.scale && one.level >= one.scale.mastery_level,
  ),
)

function problem(field: string): 'true' | undefined {
  return props.problems.get(`${props.where}.${field}`) ? 'true' : undefined
}
</script>

<template>
  <div v-one-stop:column class="cell" :class="{ mastery }">
    <div class="top">
      <b v-if="final">{{ level.name }}</b>
      <input
        v-else
        v-model="level.name"
        class="input plain name"
        :aria-label="`Name of a level of ${criterion}`"
        placeholder="Name"
        @input="emit('renamed')"
        :aria-invalid="problem('name')"
      />
      <span v-if="final" class="quiet">{{ level.points }}</span>
      <input
        v-else
        v-model="level.points"
        class="input plain points"
        inputmode="decimal"
        :aria-label="`Points of ${level.name || 'this level'}`"
        title="Points"
        :aria-invalid="problem('points')"
      />
    </div>
    <p v-if="final" class="descriptor">{{ level.descriptor || '–' }}</p>
    <textarea
      v-else
      v-model="level.descriptor"
      class="input plain descriptor"
      data-stop
      rows="3"
      :aria-label="`Descriptor of ${level.name || 'this level'}`"
      placeholder="What it looks like"
      :aria-invalid="problem('descriptor')"
    />
    <div v-for="one in shown" :key="one.outcome.id" class="map">
      <Ladder
        v-if="one.scale"
        :level="one.level"
        :levels="one.scale.levels.length"
        :mastery-level="one.scale.mastery_level"
        :size="14"
      />
      <span>{{ one.outcome.code }}</span>
      <span v-if="final">{{ one.cell.value || 'none' }}</span>
      <template v-else>
        <input
          class="input plain value"
          :class="{ hand: one.cell.by_hand }"
          inputmode="decimal"
          v-model.lazy="one.cell.value"
          placeholder="none"
          :aria-label="`${level.name || 'This level'} is evidence of this value on ${one.outcome.code}`"
          @change="one.cell.by_hand = true"
        />
        <button
          v-if="one.cell.by_hand"
          class="link small"
          type="button"
          :aria-label="`Back to the default value for ${one.outcome.code}`"
          title="Written by hand; back to the default"
          @click="one.cell.by_hand = false"
        >
          by hand ↺
        </button>
      </template>
    </div>
    <div v-if="changeable" class="tools">
      <button
        class="tool"
        type="button"
        :disabled="place === 0"
        :aria-label="`Move the level ${level.name} of ${criterion} down the ladder`"
        title="Lower"
        @click="emit('move', -1)"
      >
        ←
      </button>
      <button
        class="tool"
        type="button"
        :disabled="place === count - 1"
        :aria-label="`Move the level ${level.name} of ${criterion} up the ladder`"
        title="Higher"
        @click="emit('move', 1)"
      >
        →
      </button>
      <button
        v-if="count < 10"
        class="tool"
        type="button"
        :aria-label="`Put a level in above ${level.name} of ${criterion}`"
        title="Put a level in above"
        @click="emit('insert')"
      >
        +
      </button>
      <button
        v-if="count > 2"
        class="tool"
        type="button"
        :aria-label="`Delete the level ${level.name} of ${criterion}`"
        title="Delete"
        @click="emit('remove')"
      >
        ×
      </button>
    </div>
  </div>
</template>

<style scoped>
.cell {
  padding: 9px 9px 7px;
  border-left: 1px solid var(--line);
  font-size: 12.8px;
  display: flex;
  flex-direction: column;
  min-width: 0;
  box-shadow: inset 0 2px 0 var(--line);
}
.cell:first-child {
  border-left: 0;
}
.cell.mastery {
  box-shadow: inset 0 4px 0 var(--jade);
}
.top {
  display: flex;
  gap: 4px;
  align-items: baseline;
}
.top b {
  flex: 1;
}
.name {
  font-weight: 650;
  padding: 2px 4px;
  margin-left: -5px;
  min-height: 26px;
}
.points {
  width: 44px;
  text-align: right;
  padding: 2px 4px;
  min-height: 26px;
  color: var(--ink-2);
}
.descriptor {
  padding: 2px 4px;
  margin: 2px 0 6px -5px;
  line-height: 1.35;
  field-sizing: content;
  min-height: 54px;
  resize: none;
}
p.descriptor {
  margin-left: 0;
  padding: 0;
}
.map {
  display: flex;
  gap: 5px;
  align-items: center;
  color: var(--ink-2);
  font-size: 12px;
}
.map:first-of-type {
  margin-top: auto;
}
.value {
  width: 50px;
  padding: 1px 4px;
  min-height: 24px;
}
.value.hand {
  font-weight: 650;
  border-bottom-color: var(--ink);
  border-radius: 0;
}
.tools {
  display: flex;
  gap: 2px;
  margin: 3px 0 0 -4px;
  opacity: 0;
}
.cell:hover .tools,
.tools:focus-within {
  opacity: 1;
}
.tool {
  border: 0;
  background: none;
  border-radius: 4px;
  min-width: 26px;
  min-height: 24px;
  padding: 0;
  color: var(--ink-2);
  cursor: pointer;
}
.tool:hover {
  background: var(--sunk);
}
.tool[disabled] {
  opacity: 0.4;
  cursor: default;
}
@media (pointer: coarse) {
  .tools {
    opacity: 1;
  }
}
</style>
