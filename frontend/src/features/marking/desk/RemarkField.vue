<script setup lang="ts">
import { limits } from '@/api/limits'
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { onBeforeUnmount, ref, useId, watch } from 'vue'

/** A remark, saved as it is written: after a pause, and when the field is left. */
const props = defineProps<{ label: string; text: string; hints?: string[]; disabled?: boolean }>()
const emit = defineEmits<{ save: [text: string]; leave: [] }>()
const id = useId()
const words = ref(props.text)
let typing = false

watch(
  () => props.text,
  (text) => {
    if (!typing) words.value = text
  },
)

function save() {
  if (words.value.trim() !== props.text) emit('save', words.value.trim())
}
const soon = useDebounceFn(save, 700)
function typed() {
  typing = true
  void soon()
}
function left() {
  typing = false
  save()
}
function keep() {
  if (typing) save()
}
onBeforeUnmount(keep)
// The last words before a reload go into the queue, too.
useEventListener(window, 'pagehide', keep)
</script>

<template>
  <div class="remark">
    <label :for="id" class="small"
      >{{ label }} <kbd v-if="hints?.[0]">{{ hints[0] }}</kbd><template v-if="hints?.[1]">
        from the bank <kbd>{{ hints[1] }}</kbd></template
      ></label
    >
    <textarea
      :id="id"
      v-model="words"
      class="input"
      rows="1"
      data-remark
      :maxlength="limits.RemarkIn.text"
      :disabled="disabled"
      @input="typed"
      @blur="left"
      @keydown.esc.stop="(left(), $emit('leave'))"
    />
  </div>
</template>

<style scoped>
.remark {
  display: grid;
  gap: 3px;
}
label {
  color: var(--ink-2);
}
textarea {
  field-sizing: content;
  min-height: 34px;
  max-height: 160px;
  font-size: 13px;
  border-style: dashed;
}
</style>
