<script setup lang="ts">
import type { OutcomeOut } from '@/api/schema'
import { several } from '@/design/format'

defineProps<{
  outcome: OutcomeOut
  classMethod: string
  on: boolean
  first: boolean
  last: boolean
}>()
const emit = defineEmits<{ choose: []; move: [by: number, from: EventTarget | null] }>()
</script>

<template>
  <li :class="{ on }">
    <button
      class="main-part"
      type="button"
      :aria-current="on ? 'true' : undefined"
      @click="emit('choose')"
    >
      <b class="code">{{ outcome.code }}</b>
      <span class="title">{{ outcome.title }}</span>
      <span v-if="outcome.method" class="tag">{{ outcome.method.name }}</span>
      <span v-if="outcome.minimum > 1" class="tag"
        >from {{ several(outcome.minimum, 'piece') }}</span
      >
      <span v-if="outcome.retired" class="tag">retired</span>
    </button>
    <span v-if="!outcome.retired" class="moves">
      <button
        class="btn bare small"
        type="button"
        :aria-label="`Move ${outcome.code}; arrow keys up and down too`"
        title="Move with the arrow keys"
        @keydown.up.prevent="emit('move', -1, $event.currentTarget)"
        @keydown.down.prevent="emit('move', 1, $event.currentTarget)"
      >
        ⋮⋮
      </button>
      <button
        class="btn bare small"
        type="button"
        :disabled="first"
        :aria-label="`Move ${outcome.code} up`"
        @click="emit('move', -1, $event.currentTarget)"
      >
        ↑
      </button>
      <button
        class="btn bare small"
        type="button"
        :disabled="last"
        :aria-label="`Move ${outcome.code} down`"
        @click="emit('move', 1, $event.currentTarget)"
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
}
li.on {
  box-shadow: inset 3px 0 0 var(--ink);
  background: var(--paper);
}
.main-part {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: 12px;
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
  overflow-wrap: anywhere;
}
.moves {
  display: flex;
}
.moves .btn {
  padding: 4px 7px;
  min-height: 28px;
}
</style>
