<script setup lang="ts">
import { NButton, NSlider } from 'naive-ui'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { longDay } from '@/design/format'
import { dayOfNumber, numberOfDay } from './days'

/** A day of the term on a line; it plays the term week by week. Empty is today. */
const day = defineModel<string>({ required: true })
const props = defineProps<{ first: string; now: string }>()
const WEEK = 7
const PAUSE = 700
const last = computed(() => numberOfDay(props.now))
const first = computed(() =>
  Math.min(numberOfDay(props.first), numberOfDay(day.value || props.now), last.value),
)
/** Where the handle is, at once; the day follows when it rests. */
const at = ref(numberOfDay(day.value || props.now))
const shown = computed(() => (at.value >= last.value ? 'today' : longDay(dayOfNumber(at.value))))
let rests: ReturnType<typeof setTimeout> | undefined
watch(day, (one) => (at.value = numberOfDay(one || props.now)))
function slid(number: number) {
  at.value = number
  clearTimeout(rests)
  rests = setTimeout(() => (day.value = number >= last.value ? '' : dayOfNumber(number)), 120)
}

const playing = ref(false)
let next: ReturnType<typeof setTimeout> | undefined
function play() {
  playing.value = !playing.value
  clearTimeout(next)
  if (!playing.value) return
  if (at.value >= last.value) slid(first.value)
  next = setTimeout(step, PAUSE)
}
function step() {
  slid(Math.min(last.value, at.value + WEEK))
  if (at.value >= last.value) playing.value = false
  else next = setTimeout(step, PAUSE)
}
onBeforeUnmount(() => {
  clearTimeout(next)
  clearTimeout(rests)
})
const box = ref<HTMLElement | null>(null)
// Naive UI gives the handle a role and its values, but no name.
onMounted(() => {
  box.value?.querySelector('[role="slider"]')?.setAttribute('aria-label', 'Day of the term')
})
watch(
  shown,
  (words) => box.value?.querySelector('[role="slider"]')?.setAttribute('aria-valuetext', words),
  { flush: 'post' },
)
</script>

<template>
  <div ref="box" class="time">
    <NButton
      size="small"
      title="Play the term, week by week"
      :aria-label="playing ? 'Pause' : 'Play the term'"
      :aria-pressed="playing"
      @click="play"
      >{{ playing ? 'Pause' : 'Play' }}</NButton
    >
    <NSlider :value="at" :min="first" :max="last" :tooltip="false" @update:value="slid" />
    <span class="small day" role="status">{{ shown }}</span>
  </div>
</template>

<style scoped>
.time {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
.time :deep(.n-slider) {
  width: 130px;
}
.day {
  min-width: 84px;
}
</style>
