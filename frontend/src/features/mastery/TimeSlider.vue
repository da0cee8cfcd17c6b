<script setup lang="ts">
import { NButton, NSlider } from 'naive-ui'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { longDay } from '@/design/format'

/** A day of the term on a line; it plays the term week by week. Empty is today. */
const day = defineModel<string>({ required: true })
const props = defineProps<{ first: string; now: string }>()
const DAY = 86_400_000
const WEEK = 7
const PAUSE = 700
const numberOf = (one: string) => Math.round(Date.parse(`${one}T00:00Z`) / DAY)
const dayOf = (number: number) => new Date(number * DAY).toISOString().slice(0, 10)
const last = computed(() => numberOf(props.now))
const first = computed(() =>
  Math.min(numberOf(props.first), numberOf(day.value || props.now), last.value),
)
/** Where the handle is, at once; the day follows when it rests. */
const at = ref(numberOf(day.value || props.now))
const shown = computed(() => (at.value >= last.value ? 'today' : longDay(dayOf(at.value))))
let rests: ReturnType<typeof setTimeout> | undefined
watch(day, (one) => (at.value = numberOf(one || props.now)))
function slid(number: number) {
  at.value = number
  clearTimeout(rests)
  rests = setTimeout(() => (day.value = number >= last.value ? '' : dayOf(number)), 120)
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
