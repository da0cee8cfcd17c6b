<script setup lang="ts">
import type { FeedbackOut } from '@/api/schema'
import { clockOf, fileSize } from '@/design/format'

/** A recording to be heard, or a file to be saved, as it is given back. */
const props = defineProps<{
  one: FeedbackOut
  own: boolean
  /** Its words are written beside it. */
  wordless?: boolean
}>()
const address = () => `/api/${props.own ? 'my/' : ''}feedback/${props.one.id}/file`
</script>

<template>
  <div class="item">
    <template v-if="one.kind === 'recording'">
      <p class="small quiet">Spoken remark, {{ clockOf(one.seconds) }}</p>
      <audio
        controls
        preload="none"
        :src="address()"
        :aria-label="`Spoken remark, ${clockOf(one.seconds)}`"
      />
    </template>
    <p v-else class="small">
      <a :href="address()" :download="one.name">{{ one.name }}</a>
      <span class="quiet">, {{ fileSize(one.size) }}</span>
    </p>
    <p v-if="one.words && !wordless" class="words" dir="auto">{{ one.words }}</p>
  </div>
</template>

<style scoped>
.item {
  width: 100%;
  overflow-wrap: anywhere;
}
.words {
  margin-top: 4px;
  white-space: pre-wrap;
}
@media print {
  audio {
    display: none;
  }
}
audio {
  width: 100%;
  height: 40px;
}
</style>
