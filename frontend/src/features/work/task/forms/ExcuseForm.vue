<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { StudentAtTaskOut } from '@/api/schema'
import { vOpens } from '@/design/focus'
import QueryState from '@/design/telling/QueryState.vue'
import { keys } from '@/shared/queries'
import { useScales } from '@/shared/scales'
import LevelChanges from '@/shared/LevelChanges.vue'

/** Before a marked student is excused, or no longer: which of their levels that would change. */
const props = defineProps<{ taskId: number; student: StudentAtTaskOut }>()
defineEmits<{ excuse: []; cancel: [] }>()
const { data: scales } = useScales()
const path = computed(() => ({ task_id: props.taskId, student_id: props.student.id }))
const excused = computed(() => props.student.state !== 'excused')
const {
  data: moves,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.excuseEffects(props.taskId, props.student.id, excused.value),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/excused/effects', {
        params: { path: path.value, query: { excused: excused.value } },
      }),
    ),
  gcTime: 0,
})
const changes = computed(() => moves.value?.classes.flatMap((one) => one.changes) ?? [])
const lost = computed(
  () =>
    changes.value.filter((one) => one.before.state === 'mastered' && one.after.state !== 'mastered')
      .length,
)
</script>

<template>
  <section
    v-opens
    class="excuse"
    :aria-label="excused ? `Excuse ${student.name}` : `${student.name} is no longer excused`"
  >
    <p>
      <template v-if="!excused"
        ><b>The mark of {{ student.name }} will count as evidence again.</b></template
      >
      <template v-else
        ><b>The mark of {{ student.name }} will no longer count as evidence.</b> It is kept, and
        counts again when they are no longer excused.</template
      >
      <span v-if="lost" class="clay"
        >{{ lost === 1 ? 'One outcome is' : `${lost} outcomes are` }} no longer mastered then.</span
      >
    </p>
    <QueryState v-if="!moves || !scales" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <LevelChanges :changes="changes" :scales="scales" />
      <p v-if="moves.elsewhere" class="small quiet">
        {{ moves.elsewhere }} more in classes of colleagues.
      </p>
    </template>
    <div class="row">
      <NButton type="primary" @click="$emit('excuse')">{{
        excused ? 'Excuse' : 'No longer excused'
      }}</NButton>
      <NButton quaternary @click="$emit('cancel')">Cancel</NButton>
    </div>
  </section>
</template>

<style scoped>
.excuse {
  display: grid;
  gap: 8px;
  max-width: 620px;
  padding: 6px 0 10px;
}
</style>
