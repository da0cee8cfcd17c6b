<script setup lang="ts">
import type { NoteFileOut } from '@/api/schema'
import { clockOf, fileSize } from '@/design/format'

/** What goes with a note: recordings to be heard, pictures to be seen. */
const props = defineProps<{ files: readonly NoteFileOut[]; own?: boolean }>()
const address = (file: NoteFileOut) => `/api/${props.own ? 'my/' : ''}note-files/${file.id}/file`
</script>

<template>
  <div v-for="file in files" :key="file.id" class="file">
    <template v-if="file.kind === 'recording'">
      <audio
        controls
        preload="none"
        :src="address(file)"
        :aria-label="`Voice note, ${clockOf(file.seconds)}`"
      />
    </template>
    <template v-else>
      <img
        v-if="file.file_kind === 'picture'"
        :src="address(file)"
        :alt="`Photograph ${file.name}`"
        loading="lazy"
      />
      <a v-else :href="address(file)" :download="file.name">{{ file.name }}</a>
      <span v-if="file.file_kind !== 'picture'" class="quiet">, {{ fileSize(file.size) }}</span>
    </template>
  </div>
</template>

<style scoped>
.file {
  margin-top: 4px;
}
img {
  max-width: 100%;
  max-height: 180px;
  border: 1px solid var(--line);
  border-radius: 4px;
}
audio {
  width: 100%;
  height: 40px;
}
</style>
