<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type { TrailOut } from '@/api/schema'
import TextField from '@/design/TextField.vue'
import { longDay } from '@/design/format'
import { useSending } from '@/shared/useSending'
import { vOpens } from '@/design/focus'

/** Whether an outcome is expected of a student: lift it with a reason, or expect it again. */
const props = defineProps<{ classId: number; trail: TrailOut; now: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const reason = ref<string | null>(null)
const { problem, send } = useSending(useRefresh().wall)

async function change(work: () => Promise<unknown>) {
  if (!(await send(work))) return
  reason.value = null
  emit('changed')
}

const params = () => ({
  path: {
    class_id: props.classId,
    student_id: props.trail.student_id,
    outcome_id: props.trail.outcome_id,
  },
})
const lift = () =>
  change(() =>
    ask(
      api.PUT('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}/not-expected', {
        params: params(),
        body: { reason: reason.value ?? '' },
      }),
    ),
  )
const expectAgain = () =>
  change(() =>
    ask(
      api.DELETE('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}/not-expected', {
        params: params(),
      }),
    ),
  )
</script>

<template>
  <p v-if="trail.not_expected" class="notice lifted">
    <b>Not expected</b> since {{ longDay(trail.not_expected.since) }}:
    {{ trail.not_expected.reason }}. {{ trail.student }} is not counted here.
    <button v-if="now" class="link" type="button" @click="expectAgain">Expect it again</button>
  </p>
  <form v-else-if="reason !== null" v-opens novalidate @submit.prevent="lift">
    <TextField
      v-model="reason"
      label="Why is it not expected?"
      hint="It leaves this student’s count and the class’s; evidence is kept"
      :error="problem?.at('reason')"
    />
    <div class="row">
      <button class="btn main" type="submit">Not expected</button>
      <button class="btn bare" type="button" @click="reason = null">Cancel</button>
    </div>
  </form>
  <p v-else-if="now" class="small">
    <button class="link quiet" type="button" @click="reason = ''">
      Not expected of this student …
    </button>
  </p>
  <p v-if="problem && !problem.at('reason')" class="notice clay" role="alert">
    {{ problem.message }}
  </p>
</template>

<style scoped>
.lifted {
  border-left-color: var(--plum);
  margin: 8px 0;
}
form {
  margin: 8px 0;
}
</style>
