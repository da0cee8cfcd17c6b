<script setup lang="ts">
import { useTemplateRef } from 'vue'

/** Words that open the choice of a file, or, on a phone, the camera. */
defineProps<{
  text: string
  multiple?: boolean
  disabled?: boolean
  /** A picture, taken now where there is a camera. */
  photo?: boolean
}>()
const emit = defineEmits<{ files: [files: File[]] }>()
const input = useTemplateRef('input')
function chosen() {
  emit('files', [...(input.value?.files ?? [])])
  // The same file can be chosen again.
  if (input.value) input.value.value = ''
}
</script>

<template>
  <label class="pick small">
    <input
      ref="input"
      type="file"
      :multiple="multiple"
      :accept="photo ? 'image/*' : undefined"
      :capture="photo ? 'environment' : undefined"
      :disabled="disabled"
      @change="chosen"
    />
    <span :class="{ photo }">{{ text }}</span>
  </label>
</template>

<style scoped>
.pick {
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
}
input {
  position: absolute;
  opacity: 0;
  width: 1px;
  height: 1px;
}
.pick:focus-within {
  outline: 2px solid var(--focus);
  outline-offset: 2px;
  border-radius: 4px;
}
.photo {
  display: inline-block;
  padding: 12px 8px;
}
@media (pointer: coarse) {
  span {
    display: inline-block;
    padding: 12px 4px;
  }
}
</style>
