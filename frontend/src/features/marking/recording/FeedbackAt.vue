<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, useTemplateRef, watch } from 'vue'
import FileLink from '@/design/controls/FileLink.vue'
import FeedbackItem from '@/shared/student/FeedbackItem.vue'
import RemarkField from '@/features/marking/desk/RemarkField.vue'
import { clockOf } from '@/design/format'
import { canRecord, MOST_SECONDS } from '@/shared/recording/useRecorder'
import type { Place, useFeedback } from './useFeedback'

/** Spoken remarks and files at a place of the mark. */
const props = defineProps<{
  it: ReturnType<typeof useFeedback>
  place: Place
  ready: boolean
  /** Something nearer is open: nothing new is begun here. */
  quiet?: boolean
  /** In the room: a photograph, kept in this browser until the server has it. */
  photo?: boolean
}>()
defineEmits<{ leave: [] }>()
const recorder = computed(() => props.it.recorder)
const there = computed(() => props.it.at(props.place))
const recording = computed(() => {
  const now = props.it.recordingAt.value
  return (
    now?.passageKey === props.place.passageKey &&
    (props.place.passageKey !== null || now.criterionId === props.place.criterionId)
  )
})
const asked = ref(false)
const telling = computed(() => asked.value || recording.value)
const now = useTemplateRef('now')
// That the microphone listens is seen, wherever the panel was scrolled to.
watch(now, (there) => there?.scrollIntoView({ block: 'nearest' }))

function record() {
  asked.value = true
  props.it.record(props.place)
}
async function attach(files: File[]) {
  asked.value = true
  if (props.photo) await props.it.keepFiles(props.place, files)
  else await props.it.attach(props.place, files)
}
</script>

<template>
  <div class="feedback">
    <div v-for="one in there.sent" :key="one.key" class="one">
      <FeedbackItem :one="one" :own="false" wordless />
      <RemarkField
        v-if="one.kind === 'recording'"
        label="Its words"
        :text="one.words"
        @save="it.write(one, $event)"
        @leave="$emit('leave')"
      />
      <NButton size="tiny" quaternary @click="it.remove(one)"
        >Delete {{ one.kind === 'recording' ? 'the recording' : one.name }}</NButton
      >
    </div>
    <p v-for="one in there.waiting" :key="one.key" class="small row" role="status">
      <template v-if="one.ended && !it.said.get(one.key)"
        >Sending {{ one.name ?? `the recording (${clockOf(one.seconds)})` }} …</template
      >
      <template v-else-if="one.ended"
        ><span class="clay">Not sent: {{ it.said.get(one.key) }}</span> It is kept in this
        browser.</template
      >
      <span v-else class="clay">A recording was cut off at {{ clockOf(one.seconds) }}.</span>
      <NButton v-if="!one.ended || it.said.get(one.key)" size="tiny" @click="it.keep(one)">{{
        one.ended ? 'Try again' : 'Keep it'
      }}</NButton>
      <NButton size="tiny" quaternary @click="it.forget(one)">Delete it</NButton>
    </p>
    <div v-if="recording" ref="now" class="row now" role="group" aria-label="Recording">
      <span
        class="level"
        role="meter"
        aria-label="Level"
        :aria-valuenow="Math.round(recorder.level.value * 100)"
        aria-valuemin="0"
        aria-valuemax="100"
        ><i :style="{ width: `${recorder.level.value * 100}%` }"
      /></span>
      <span class="small nowrap"
        >{{ recorder.state.value === 'paused' ? 'Paused' : 'Recording' }}
        {{ clockOf(recorder.seconds.value) }} of {{ clockOf(MOST_SECONDS) }}</span
      >
      <NButton
        size="small"
        @click="recorder.state.value === 'paused' ? recorder.resume() : recorder.pause()"
        >{{ recorder.state.value === 'paused' ? 'Go on' : 'Pause' }}</NButton
      >
      <NButton size="small" type="primary" @click="recorder.stop()"
        >Stop <kbd v-if="!photo">R</kbd></NButton
      >
    </div>
    <div v-else-if="!quiet" class="row" :class="{ photo }">
      <NButton
        v-if="canRecord()"
        :size="photo ? 'large' : 'tiny'"
        quaternary
        :disabled="!ready || recorder.state.value !== 'idle'"
        @click="record"
        >{{ recorder.state.value === 'asking' ? 'Asking for the microphone …' : 'Record'
        }}<kbd v-if="!photo">R</kbd></NButton
      >
      <FileLink
        :text="
          photo ? 'Photograph' : canRecord() ? 'Attach a file' : 'Attach a recording or a file'
        "
        :multiple="!photo"
        :photo="photo"
        :disabled="!ready"
        @files="attach"
      />
    </div>
    <p
      v-if="telling && (recorder.problem.value || it.problem.value)"
      class="small clay"
      role="alert"
    >
      {{ recorder.problem.value || it.problem.value }}
    </p>
  </div>
</template>

<style scoped>
.feedback {
  margin-top: 6px;
  display: grid;
  gap: 6px;
}
.one {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.one :deep(.remark) {
  width: 100%;
}
.now {
  flex-wrap: wrap;
  gap: 8px;
}
.level {
  width: 70px;
  height: 10px;
  border: 1px solid var(--edge);
  border-radius: 5px;
  overflow: hidden;
}
.level i {
  display: block;
  height: 100%;
  background: var(--ink);
}
kbd {
  margin-left: 5px;
}
.photo {
  margin-left: -18px;
}
</style>
