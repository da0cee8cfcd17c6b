<script setup lang="ts">
import { computed } from 'vue'
import type { MethodOut } from '@/api/schema'
import { useSession } from '@/shared/session'
import TrailChart from '@/features/mastery/trail/TrailChart.vue'
import { useTrail, useTrailUnder } from '@/features/mastery/trail/useTrail'

/** One student's evidence drawn under the method that holds and under the one looked at. */
const props = defineProps<{
  classId: number
  studentId: number
  outcomeId: number
  method: MethodOut
}>()
const { timeZone } = useSession()
const { data: trail } = useTrail(props)
const { data: points } = useTrailUnder(props, () => props.method, true)
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
