<script setup lang="ts">
import type { OutcomeOut } from '@/api/schema'
import { several as counted } from '@/design/format'

/** An outcome in the list: to be opened, chosen with others, and moved by hand or by key. */
defineProps<{
  outcome: OutcomeOut
  on: boolean
  several?: boolean
  marked?: boolean
  movable?: boolean
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
    </button>
    <button
      v-if="!outcome.retired && movable"
      class="btn bare small handle"
      type="button"
      :data-handle="outcome.id"
      :aria-label="`Move ${outcome.code}; arrow keys up and down too`"
      title="Drag, or move with the arrow keys"
      @keydown.up.prevent="emit('move', -1)"
      @keydown.down.prevent="emit('move', 1)"
    >
      ⋮⋮
    </button>
    <span v-if="!outcome.retired && movable" class="moves">
      <button
        class="btn bare small"
        type="button"
        :aria-label="`Move ${outcome.code} up`"
        @click="emit('move', -1)"
      >
        ↑
      </button>
      <button
        class="btn bare small"
        type="button"
        :aria-label="`Move ${outcome.code} down`"
        @click="emit('move', 1)"
      >
        ↓
      </button>
    </span>
  </li>
</template>

<style scoped>
li {
  display: flex;
  align-items: center;
  border-top: 1px solid var(--line);
  background: var(--card);
}
li.on {
  box-shadow: inset 3px 0 0 var(--ink);
  background: var(--paper);
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
  min-height: 38px;
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
  cursor: grab;
  touch-action: none;
}
.moves {
  display: flex;
}
.handle,
.moves .btn {
  padding: 4px 7px;
  min-height: 28px;
}
</style>
