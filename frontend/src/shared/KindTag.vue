<script setup lang="ts">
import type { TaskKind } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { KIND_WORDS } from './states'
import { handsIn } from '@/shared/kinds'

/** What kind of task it is, where nothing is handed in. */
defineProps<{ kind: TaskKind }>()
</script>

<template>
  <Tag v-if="!handsIn(kind)">{{ KIND_WORDS[kind] }}</Tag>
</template>
