<script setup lang="ts">
import { NSlider } from 'naive-ui'
import { onMounted, ref, useId } from 'vue'

/** A number on a line, with its label before it and what it is now behind it. */
defineProps<{ label: string; min: number; max: number; said: string; hint?: string }>()
const value = defineModel<number>({ required: true })
const id = useId()
const box = ref<HTMLElement | null>(null)
// Naive UI gives the handle a role and its values, but no name.
onMounted(() => {
  const handle = box.value?.querySelector('[role="slider"]')
  handle?.setAttribute('aria-labelledby', id)
})
</script>

<template>
  <div ref="box" class="slider">
    <b :id="id" class="small">{{ label }}</b>
    <NSlider v-model:value="value" :min="min" :max="max" :step="1" :tooltip="false" />
    <b class="said">{{ said }}</b>
    <span v-if="hint" class="small quiet">{{ hint }}</span>
  </div>
</template>

<style scoped>
.slider {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
}
.slider :deep(.n-slider) {
  width: 150px;
}
.said {
  min-width: 46px;
  font-variant-numeric: tabular-nums;
}
</style>
