<script setup lang="ts">
import { nowIso } from '@/api/clock'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { say } from '@/design/telling/messages'
import { clock, dayAndTime, several } from '@/design/format'
import { useSaves } from '@/shared/saving/useSaves'
import type { useObservation } from './useObservation'

/** What is true of what was tapped, who is still to be seen, Undo and Finish: in sight all the time. */
const props = defineProps<{ it: ReturnType<typeof useObservation>; timeZone: string }>()
defineEmits<{ finish: [] }>()
const saves = useSaves()
const unfinished = computed(() => props.it.found.value?.unfinished ?? 0)

/** What is true of what was tapped, in one line, all the time. */
const state = computed(() => {
  const count = props.it.waiting.value
  if (saves.unkept)
    return `This phone has no room left: ${several(saves.unkept, 'choice is', 'choices are')} only in this page. Keep it open until they are sent.`
  if (saves.state === 'gone' || (props.it.fromBefore.value && count))
    return count
      ? `No connection. ${several(count, 'choice waits', 'choices wait')} here and will be sent.`
      : 'No connection. What you tap waits here and will be sent.'
  if (props.it.fromBefore.value) return `No connection. Shown as it was at ${shownAt.value}.`
  if (count || props.it.keeping.value) return 'Saving …'
  return savedAt.value ? `All saved at ${savedAt.value}` : 'All saved'
})
const offline = computed(
  () => saves.unkept > 0 || saves.state === 'gone' || props.it.fromBefore.value,
)
const shownAt = computed(() =>
  dayAndTime(new Date(props.it.givenAt.value).toISOString(), props.timeZone),
)
/** Who is still to be seen: today, or, where some were seen on an earlier day, at all. */
const count = computed(() => {
  const left = props.it.left.value
  if (!left) return 'Everybody was seen'
  if (!props.it.someEarlier.value) return `${left} still to see`
  return props.it.again.value ? `${left} still to see today` : `${left} never seen`
})
const savedAt = ref('')
watch(
  () => props.it.waiting.value,
  (now, before) => {
    if (!now && before) savedAt.value = clock(nowIso(), props.timeZone)
  },
)

function undo() {
  const undone = props.it.undoLast()
  if (undone) say(`Undone: ${several(undone, 'tap')}`)
}
</script>

<template>
  <footer class="foot">
    <p class="small" role="status" :class="{ clay: offline }">{{ state }}</p>
    <p class="small count">
      <b>{{ count }}</b>
    </p>
    <div class="row">
      <NButton size="large" :disabled="!it.undoable.value" @click="undo">Undo</NButton>
      <NButton
        v-if="unfinished || it.waiting.value"
        size="large"
        type="primary"
        @click="$emit('finish')"
        >Finish{{ unfinished ? ` ${unfinished}` : '' }}</NButton
      >
    </div>
  </footer>
</template>

<style scoped>
.foot {
  position: sticky;
  bottom: 0;
  z-index: 2;
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 12px;
  align-items: center;
  padding: 10px 16px max(10px, env(safe-area-inset-bottom));
  background: var(--card);
  border-top: 1px solid var(--line);
}
.foot .row {
  grid-row: 1 / 3;
  grid-column: 2;
}
</style>
