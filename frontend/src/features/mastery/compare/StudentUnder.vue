<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { MethodOut } from '@/api/schema'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import TrailChart from '@/features/mastery/TrailChart.vue'

/** One student's evidence drawn under the method that holds and under the one looked at. */
const props = defineProps<{
  classId: number
  studentId: number
  outcomeId: number
  method: MethodOut
}>()
const { timeZone } = useSession()
const path = computed(() => ({
  class_id: props.classId,
  student_id: props.studentId,
  outcome_id: props.outcomeId,
}))
const { data: trail } = useQuery({
  key: () => keys.trail(props.classId, props.studentId, props.outcomeId, ''),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}', {
        params: { path: path.value, query: {} },
      }),
    ),
})
const { data: points } = useQuery({
  key: () => keys.trailUnder(props.classId, props.studentId, props.outcomeId, props.method.name),
  query: () => {
    const { kind, newest, last } = props.method
    return ask(
      api.GET('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}/under', {
        params: { path: path.value, query: { kind, newest, last } },
      }),
    )
  },
  placeholderData: (before) => before,
})
const other = computed(() =>
  trail.value && points.value && trail.value.method.name !== props.method.name
    ? { name: props.method.name, points: points.value }
    : null,
)
</script>

<template>
  <section v-if="trail" :aria-label="`${trail.student} under two methods`">
    <h2 dir="auto">
      <RouterLink
        :to="{
          name: 'mastery',
          params: { classId },
          query: { student: studentId, outcome: outcomeId },
        }"
        >{{ trail.student }}</RouterLink
      >
    </h2>
    <TrailChart :trail="trail" :time-zone="timeZone" :other="other" />
    <p class="small">
      <b>{{ trail.method.name }}</b> (line): {{ trail.calculated.value ?? 'nothing'
      }}<template v-if="other"
        >; <b>{{ other.name }}</b> (dotted): {{ other.points.at(-1)?.value ?? 'nothing' }}</template
      >.
      <span v-if="trail.judgement" class="plum">Judged: {{ trail.judgement.name }}.</span>
    </p>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 14px;
}
.plum {
  color: var(--plum);
}
</style>
