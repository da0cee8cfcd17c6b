<script setup lang="ts">
import { ref } from 'vue'

/** A file, chosen or dropped here; its label says of what kind. */
defineProps<{ label: string; accept: string; chosen?: string }>()
const emit = defineEmits<{ pick: [file: File] }>()
const over = ref(false)

function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  // The same file can be chosen again after it was mended.
  input.value = ''
  if (file) emit('pick', file)
}

function drop(event: DragEvent) {
  over.value = false
  const file = event.dataTransfer?.files[0]
  if (file) emit('pick', file)
}
</script>

<template>
  <div
    class="pick"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <label>
      {{ label }}
      <input class="visually-hidden" type="file" :accept="accept" @change="take" />
    </label>
    <span class="small quiet">{{ chosen ?? 'or drop it here' }}</span>
  </div>
</template>

<style scoped>
.pick {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  border-radius: var(--r);
}
.over {
  outline: 2px dashed var(--edge);
  outline-offset: 4px;
}
label {
  position: relative;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  padding: 6px 13px;
  font-weight: 600;
  font-size: 13.5px;
  cursor: pointer;
}
label:hover {
  background: var(--sunk);
}
label:focus-within {
  outline: 2px solid var(--focus);
  outline-offset: 2px;
}
@media (pointer: coarse) {
  label {
    padding-block: 12px;
  }
}
</style>
