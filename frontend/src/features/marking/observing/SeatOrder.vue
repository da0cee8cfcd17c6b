<script setup lang="ts">
import { vOpens } from '@/design/focus'
import { NButton } from 'naive-ui'
import { ArrowDown, ArrowUp, GripVertical } from '@lucide/vue'
import { ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'

/** The order in which a class sits: dragged by its handle, or moved by buttons. */
const props = defineProps<{ students: readonly { id: number; name: string }[] }>()
const emit = defineEmits<{ done: [ids: number[]]; close: [] }>()
const rows = ref(props.students.map((one) => ({ ...one })))
const told = ref('')

function move(at: number, by: 1 | -1) {
  const to = at + by
  const [one] = rows.value.splice(at, 1)
  if (!one) return
  rows.value.splice(to, 0, one)
  told.value = `${one.name} sits at place ${to + 1} of ${rows.value.length}`
}
</script>

<template>
  <section v-opens class="seats" aria-label="Arrange the seats">
    <p class="small quiet">
      Drag the handles, or use the arrows: the order in which you walk round.
    </p>
    <VueDraggable v-model="rows" tag="ol" handle=".grip" :delay="80" :delay-on-touch-only="true">
      <li v-for="(one, at) in rows" :key="one.id">
        <span class="grip" aria-hidden="true"><GripVertical :size="18" /></span>
        <span class="name">{{ one.name }}</span>
        <button
          type="button"
          :aria-label="`Move ${one.name} up`"
          :disabled="at === 0"
          @click="move(at, -1)"
        >
          <ArrowUp :size="18" aria-hidden="true" />
        </button>
        <button
          type="button"
          :aria-label="`Move ${one.name} down`"
          :disabled="at === rows.length - 1"
          @click="move(at, 1)"
        >
          <ArrowDown :size="18" aria-hidden="true" />
        </button>
      </li>
    </VueDraggable>
    <p class="visually-hidden" role="status">{{ told }}</p>
    <div class="row">
      <NButton
        type="primary"
        size="large"
        @click="
          emit(
            'done',
            rows.map((one) => one.id),
          )
        "
        >Use this order</NButton
      >
      <NButton size="large" @click="emit('close')">Leave it</NButton>
    </div>
  </section>
</template>

<style scoped>
.seats {
  padding: 12px 16px;
  display: grid;
  gap: 10px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  gap: 6px;
  border-bottom: 1px solid var(--line);
}
.name {
  flex: 1;
  min-width: 0;
  overflow-wrap: anywhere;
}
.grip,
button {
  width: 44px;
  height: 44px;
  display: grid;
  place-items: center;
  border: 0;
  background: none;
  color: var(--ink-2);
}
.grip {
  touch-action: none;
  cursor: grab;
}
li button {
  cursor: pointer;
}
button:disabled {
  color: var(--line);
}
</style>
