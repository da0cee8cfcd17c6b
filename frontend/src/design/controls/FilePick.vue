<script setup lang="ts">
import { ref } from 'vue'

/** A file, chosen or dropped here; its label says of what kind. */
const props = defineProps<{
  label: string
  accept?: string
  chosen?: string
  /** Several at once. */
  several?: boolean
  /** Straight from the camera, where a device has one. */
  camera?: boolean
}>()
const emit = defineEmits<{ pick: [file: File, all: File[]] }>()
const over = ref(false)

function give(files: File[]) {
  const wanted = props.several ? files : files.slice(0, 1)
  if (wanted[0]) emit('pick', wanted[0], wanted)
}

function take(event: Event) {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  // The same file can be chosen again after it was mended.
  input.value = ''
  give(files)
}

function drop(event: DragEvent) {
  over.value = false
  give([...(event.dataTransfer?.files ?? [])])
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
      <input
        class="visually-hidden"
        type="file"
        :accept="accept"
        :multiple="several"
        :capture="camera ? 'environment' : undefined"
        @change="take"
      />
    </label>
    <span v-if="!camera" class="small quiet">{{
      chosen ?? (several ? 'or drop them here' : 'or drop it here')
    }}</span>
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
