<script setup lang="ts">
import { NButton } from 'naive-ui'
import ClassLadder from '@/design/ClassLadder.vue'
import type { ClassStanding } from './useClassLadders'
import type { OutcomeOut } from '@/api/schema'
import { several as counted } from '@/design/format'

/** An outcome in the list: to be opened, chosen with others, and moved by hand or by key. */
defineProps<{
  outcome: OutcomeOut
  on: boolean
  several?: boolean
  marked?: boolean
  movable?: boolean
  arranging?: boolean
  standing?: ClassStanding
}>()
const emit = defineEmits<{ choose: []; mark: [on: boolean]; move: [by: -1 | 1] }>()
</script>

<template>
  <li :class="{ on }">
    <input
      v-if="several"
      class="box"
      type="checkbox"
      :checked="marked"
      :aria-label="`Choose ${outcome.code}`"
      @change="emit('mark', ($event.target as HTMLInputElement).checked)"
    />
    <button
      v-if="!outcome.retired && movable"
      class="handle"
      type="button"
      :data-handle="outcome.id"
      :aria-label="`Move ${outcome.code}; arrow keys up and down too`"
      title="Drag, or move with the arrow keys"
      @keydown.up.prevent="emit('move', -1)"
      @keydown.down.prevent="emit('move', 1)"
    >
      ⋮⋮
    </button>
    <button
      class="main-part"
      type="button"
      :aria-current="on ? 'true' : undefined"
      @click="emit('choose')"
    >
      <b class="code">{{ outcome.code }}</b>
      <span class="title">{{ outcome.title }}</span>
      <span v-if="outcome.also_taught.length" class="tag"
        >also in {{ outcome.also_taught.join(', ') }}</span
      >
      <span v-if="outcome.method" class="tag">{{ outcome.method.name }}</span>
      <span v-if="outcome.minimum > 1" class="tag"
        >from {{ counted(outcome.minimum, 'piece') }}</span
      >
      <span v-if="outcome.retired" class="tag">retired</span>
      <span v-if="standing?.counted" class="standing small quiet">
        <ClassLadder
          :at-level="standing.atLevel"
          :mastery-level="standing.masteryLevel"
          label="The class on its levels"
        />
        {{ standing.mastered }} of {{ standing.counted }} mastered
      </span>
    </button>
    <span v-if="!outcome.retired && movable && arranging" class="moves">
      <NButton
        v-for="by in [-1, 1] as const"
        :key="by"
        size="small"
        quaternary
        :aria-label="`Move ${outcome.code} ${by < 0 ? 'up' : 'down'}`"
        @click="emit('move', by)"
      >
        {{ by < 0 ? '↑' : '↓' }}
      </NButton>
    </span>
  </li>
</template>

<style scoped>
li {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--line);
}
li.on {
  box-shadow: inset 3px 0 0 var(--ink);
  background: var(--card);
}
.box {
  margin: 0 2px 0 8px;
}
.main-part {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: center;
  border: 0;
  background: none;
  text-align: left;
  padding: 8px;
  cursor: pointer;
  min-height: 42px;
}
.code {
  min-width: 40px;
}
.title {
  flex: 1;
  min-width: 150px;
  overflow-wrap: anywhere;
}
.handle {
  flex: none;
  width: 24px;
  min-height: 34px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink-3);
  letter-spacing: -1px;
  cursor: grab;
  touch-action: none;
}
.standing {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 172px;
}
.standing .class-ladder {
  margin: 0;
}
.moves {
  display: flex;
}
@media (pointer: coarse) {
  .handle {
    min-width: 36px;
    min-height: 44px;
  }
}
</style>
