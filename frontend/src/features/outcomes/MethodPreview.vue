<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import type { MethodPreviewOut, ScaleOut } from '@/api/schema'
import LevelChanges from '@/shared/LevelChanges.vue'
import { several } from '@/design/format'

/** What a method means on scales cut at the values, and whose level it would change. */
defineProps<{ preview: MethodPreviewOut; scales: ScaleOut[]; dirty: boolean }>()
</script>

<template>
  <Notice v-for="cut in preview.hard_cuts" :key="cut.scale" clay>
    <b>{{ cut.scale }} is cut at the values.</b> Under an average, after one “{{ cut.below }}” it
    takes
    <template v-if="cut.pieces">{{ several(cut.pieces, 'piece') }} of “{{ cut.level }}”</template>
    <template v-else>more than 200 pieces of “{{ cut.level }}”</template>
    to be at mastery.
    <RouterLink :to="{ name: 'scales', query: { scale: cut.scale_id, cut: 'three-quarters' } }"
      >Cut three quarters of the way up …</RouterLink
    >
  </Notice>
  <LevelChanges v-if="dirty" :changes="preview.changes" :scales="scales" />
</template>
