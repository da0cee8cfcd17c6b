<script setup lang="ts" generic="Line">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'

/** The first lines of a list, each a `what`, and the way to the others. */
const props = defineProps<{ lines: Line[]; what: string; most?: number }>()
const all = ref(false)
const most = computed(() => props.most ?? 5)
const shown = computed(() => (all.value ? props.lines : props.lines.slice(0, most.value)))
const hidden = computed(() => props.lines.length - shown.value.length)
</script>

<template>
  <div>
    <slot :shown="shown" />
    <NButton v-if="hidden" text class="more" @click="all = true"
      >{{ hidden }} more {{ hidden === 1 ? what : `${what}s` }}</NButton
    >
  </div>
</template>

<style scoped>
.more {
  margin-top: 6px;
  text-decoration: underline;
}
</style>
