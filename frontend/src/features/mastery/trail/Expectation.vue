<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import type { TrailOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { longDay } from '@/design/format'
import { useSending } from '@/shared/forms/useSending'
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
  <Notice v-if="trail.not_expected" plum class="lifted">
    <b>Not expected</b> since {{ longDay(trail.not_expected.since) }}:
    {{ trail.not_expected.reason }}. {{ trail.student }} is not counted here.
    <NButton v-if="now" class="link" text @click="expectAgain">Expect it again</NButton>
  </Notice>
  <form v-else-if="reason !== null" v-opens novalidate @submit.prevent="lift">
    <TextField
      v-model="reason"
      label="Why is it not expected?"
      hint="It leaves this student’s count and the class’s; evidence is kept"
      :error="problem?.at('reason')"
    />
    <div class="row">
      <NButton type="primary" attr-type="submit">Not expected</NButton>
      <NButton quaternary @click="reason = null">Cancel</NButton>
    </div>
  </form>
  <p v-else-if="now" class="small">
    <NButton class="link quiet" text @click="reason = ''"> Not expected of this student … </NButton>
  </p>
  <Notice v-if="problem && !problem.at('reason')" clay role="alert">
    {{ problem.message }}
  </Notice>
</template>

<style scoped>
.lifted {
  margin: 8px 0;
}
form {
  margin: 8px 0;
}
</style>
