<script setup lang="ts">
import { NButton, NTable } from 'naive-ui'
import { computed } from 'vue'
import type { RevisionEffectsOut } from '@/api/schema'
import { useScales } from '@/shared/scales'
import LevelChanges from '@/shared/LevelChanges.vue'
import { several } from '@/design/format'
import TaskEffects from './TaskEffects.vue'

/** What putting tasks on a revision does, task by task and for the chosen ones together. */
const props = defineProps<{
  effects: RevisionEffectsOut
  to: number
  draft: boolean
  chosen: number[]
  /** What the chosen tasks do together is being worked out. */
  working: boolean
  ready: boolean
}>()
defineEmits<{ choose: [taskId: number, on: boolean]; apply: [] }>()
const { data: scales } = useScales()
/** What the button does: a draft can also be made final for tasks to come. */
const action = computed(() => {
  const { chosen, draft, to } = props
  if (!chosen.length) return `Make revision ${to} final, for new tasks only`
  const tasks = several(chosen.length, 'task')
  return draft ? `Apply revision ${to} to ${tasks}` : `Put ${tasks} on revision ${to}`
})
const together = computed(() => props.effects.together.classes.flatMap((one) => one.changes))
</script>

<template>
  <section v-if="effects.only_words" class="doing">
    <h2>Only words change</h2>
    <p>
      They are changed in place, for every task that uses revision {{ to - 1 }}. Marks, totals and
      mastery stay as they are.
    </p>
    <NButton type="primary" :disabled="!ready" @click="$emit('apply')"> Change the words </NButton>
  </section>
  <section v-else class="doing">
    <h2>What revision {{ to }} does to tasks</h2>
    <p v-if="effects.tasks.length" class="small quiet">
      Choose which are marked by it. A mark is carried over level by level; nothing marked is lost,
      and a task that stays keeps every mark, total and value as it is.
    </p>
    <div v-if="effects.tasks.length" class="table-scroll">
      <NTable class="list" size="small">
        <thead>
          <tr>
            <th>Marked by revision {{ to }}</th>
            <th>Marks</th>
            <th>Totals</th>
            <th>Mastery, if this task alone goes</th>
          </tr>
        </thead>
        <tbody>
          <TaskEffects
            v-for="one in effects.tasks"
            :key="one.id"
            :effect="one"
            :to="to"
            :chosen="chosen.includes(one.id)"
            :scales="scales ?? []"
            @choose="$emit('choose', one.id, $event)"
          />
        </tbody>
      </NTable>
    </div>
    <p v-if="effects.elsewhere" class="small quiet">
      {{ several(effects.elsewhere, 'task') }} of classes you do not teach
      {{ effects.elsewhere === 1 ? 'stays' : 'stay' }} as they are.
    </p>
    <div class="together" aria-live="polite">
      <span v-if="working" class="quiet">Working out what moves …</span>
      <details v-else-if="together.length">
        <summary>
          With the {{ several(chosen.length, 'chosen task') }}:
          <b>{{ several(together.length, 'mastery value moves', 'mastery values move') }}</b>
        </summary>
        <LevelChanges :changes="together" :scales="scales ?? []" :most="200" values />
      </details>
      <span v-else-if="effects.tasks.length" class="quiet">{{
        chosen.length
          ? `With the ${several(chosen.length, 'chosen task')}, nobody’s mastery moves.`
          : 'No task is chosen: nothing moves.'
      }}</span>
      <span v-else class="quiet">No task is on another revision.</span>
      <NButton
        v-if="draft || chosen.length"
        class="push"
        type="primary"
        :disabled="!ready || working"
        @click="$emit('apply')"
      >
        {{ action }}
      </NButton>
    </div>
  </section>
</template>

<style scoped>
.doing {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.doing > .table-scroll,
.together {
  width: 100%;
}
.together {
  display: flex;
  gap: 16px;
  align-items: flex-start;
  padding: 10px 0;
}
.together details {
  flex: 1;
  max-width: 560px;
}
</style>
