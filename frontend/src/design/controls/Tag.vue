<script setup lang="ts">
import { NTag } from 'naive-ui'

/** A word or two on a thing. Jade: mastery; clay: a person has to act; plum: a teacher's judgement. */
defineProps<{ tone?: 'jade' | 'clay' | 'plum' }>()
const TYPES = { jade: 'success', clay: 'warning', plum: 'info' } as const
</script>

<template>
  <NTag class="tag" size="small" round :bordered="false" :type="tone ? TYPES[tone] : 'default'"
    ><slot
  /></NTag>
</template>
