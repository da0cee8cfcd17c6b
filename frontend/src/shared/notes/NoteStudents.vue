<script setup lang="ts">
import { NButton } from 'naive-ui'
import { X } from '@lucide/vue'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { searcher } from '@/design/search'
import TextField from '@/design/controls/TextField.vue'
import type { StudentOut } from '@/api/schema'

/** Whom a note is about: found by a few letters, one or several. */
const props = defineProps<{ students: readonly StudentOut[]; error?: string }>()
const picked = defineModel<number[]>({ required: true })
const wanted = ref('')
const at = ref(0)
const MOST = 6
const box = useTemplateRef('box')
const chosen = computed(() =>
  picked.value.flatMap((id) => props.students.find((one) => one.id === id) ?? []),
)
const found = computed(() => {
  if (!wanted.value.trim()) return []
  const has = searcher(wanted.value)
  return props.students
    .filter((one) => !picked.value.includes(one.id))
    .filter((one) => has(one.name, one.identifier))
    .slice(0, MOST)
})

function add(one: StudentOut | undefined) {
  if (!one) return
  picked.value = [...picked.value, one.id]
  wanted.value = ''
  at.value = 0
}
function drop(id: number) {
  picked.value = picked.value.filter((one) => one !== id)
  void nextTick(() => box.value?.querySelector('input')?.focus())
}
/** Enter was pressed before the list was here. */
let entered = false
function enter(event: KeyboardEvent) {
  if (!wanted.value.trim() || event.ctrlKey) return
  event.preventDefault()
  entered = !props.students.length
  add(found.value[at.value])
}
watch(
  () => props.students.length,
  () => {
    if (entered) add(found.value[0])
    entered = false
  },
)
const step = (by: number) =>
  (at.value = Math.max(0, Math.min(found.value.length - 1, at.value + by)))
</script>

<template>
  <div ref="box" class="who">
    <TextField
      v-model="wanted"
      label="Student"
      :hint="picked.length ? undefined : 'A few letters of the name, then Enter; one or several'"
      :error="error"
      role="combobox"
      :aria-expanded="found.length > 0"
      aria-controls="note-students"
      aria-autocomplete="list"
      :aria-activedescendant="found.length ? `note-student-${at}` : undefined"
      autocomplete="off"
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
      @keydown.enter="enter"
    />
    <ul v-if="found.length" id="note-students" role="listbox" aria-label="Found">
      <li
        v-for="(one, index) in found"
        :id="`note-student-${index}`"
        :key="one.id"
        role="option"
        :aria-selected="index === at"
        :class="{ on: index === at }"
        @click="add(one)"
        @mousemove="at = index"
      >
        {{ one.name }}
      </li>
    </ul>
    <p v-else-if="wanted.trim() && students.length" class="small quiet" role="status">
      Nobody in this class has these letters in their name.
    </p>
    <p v-if="chosen.length" class="row chosen">
      <NButton
        v-for="one in chosen"
        :key="one.id"
        size="small"
        :aria-label="`Not of ${one.name}`"
        @click="drop(one.id)"
        >{{ one.name }}<X class="x" :size="14" aria-hidden="true"
      /></NButton>
    </p>
  </div>
</template>

<style scoped>
.who {
  position: relative;
}
ul {
  list-style: none;
  margin: 2px 0 0;
  padding: 0;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  overflow: hidden;
}
li {
  padding: 10px 12px;
  cursor: pointer;
}
li.on {
  background: var(--sunk);
  box-shadow: inset 2px 0 0 var(--ink);
}
.chosen {
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}
.x {
  margin-left: 6px;
}
</style>
