<script setup lang="ts">
import { now } from '@/api/clock'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { TaskOut } from '@/api/schema'
import { dayAndTime, several } from '@/design/format'
import { useSession } from '@/shared/session'
import { handsIn } from '@/shared/kinds'

/** What is set, at a glance; changing it is a step of its own. */
const props = defineProps<{ classId: number; task: TaskOut }>()
defineEmits<{ change: [] }>()
const { timeZone } = useSession()
const when = (iso: string | null) => (iso ? dayAndTime(iso, timeZone.value) : '')
const own = computed(() => props.task.where.filter((one) => one.own_due_at).slice(0, 4))
const RULES = {
  latest: 'the latest counts',
  highest: 'the highest counts',
  mean: 'their mean counts',
  every: 'every one counts',
}
const KINDS = {
  'handed-in': '',
  observed: 'observed in the room',
  'other-evidence': 'other evidence: what you saw, entry by entry; each counts',
}
const asked = computed(() => props.task.criteria.filter((one) => one.asked).map((one) => one.title))
/** Why students do not see it, where they do not. */
const hidden = computed(() => {
  const { set_at } = props.task
  if (set_at === null) return 'see nothing of it: it is a draft'
  return Date.parse(set_at) > now() ? `see it from ${when(set_at)}` : ''
})
const late = computed(() => {
  const { late_per_day, late_most } = props.task
  if (!late_per_day) return 'costs nothing'
  return `${late_per_day}% of the points a started day${late_most < 100 ? `, at most ${late_most}%` : ''}`
})
</script>

<template>
  <section aria-label="What is set">
    <h2>The task</h2>
    <!-- The server has cleaned it: formats/markdown.py. -->
    <!-- eslint-disable-next-line vue/no-v-html -->
    <div v-if="task.asked" class="small asked" v-html="task.asked" />
    <dl>
      <template v-if="KINDS[task.kind]"
        ><dt>Kind</dt>
        <dd>{{ KINDS[task.kind] }}</dd></template
      >
      <dt>Due</dt>
      <dd>{{ when(task.due_at) || 'no due time' }}</dd>
      <template v-if="task.closes_at"
        ><dt>Closes</dt>
        <dd>{{ when(task.closes_at) }}</dd></template
      >
      <template v-if="task.due_at && handsIn(task.kind)"
        ><dt>Late</dt>
        <dd>{{ late }}</dd></template
      >
      <dt>For</dt>
      <dd>
        {{ task.student_ids ? several(task.students, 'chosen student') : `all ${task.students}`
        }}<template v-for="one in own" :key="one.id"
          >; {{ one.name }} until {{ when(one.own_due_at) }}</template
        >
      </dd>
      <template v-if="hidden"
        ><dt>Students</dt>
        <dd class="clay">{{ hidden }}</dd></template
      >
      <dt v-if="task.rubric">Rubric</dt>
      <dd v-if="task.rubric">
        <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: task.rubric.id } }">{{
          task.rubric.title
        }}</RouterLink>,
        <template v-if="!task.all_criteria">
          {{ asked.length }} of {{ several(task.criteria.length, 'criterion', 'criteria') }} ({{
            asked.join(', ')
          }}),
        </template>
        {{ task.rubric_shown ? 'open to students' : 'shown when it is handed back' }}
      </dd>
      <dt>Points</dt>
      <dd>{{ task.points }}{{ task.own_points ? '' : ', as the rubric has' }}</dd>
      <template v-if="handsIn(task.kind) && task.attempts_rule !== 'latest'"
        ><dt>Attempts</dt>
        <dd>{{ RULES[task.attempts_rule] }}</dd></template
      >
      <template v-if="task.category"
        ><dt>Category</dt>
        <dd>{{ task.category }}</dd></template
      >
      <template v-if="task.practice"
        ><dt>Counts</dt>
        <dd>practice: no evidence</dd></template
      >
    </dl>
    <NButton @click="$emit('change')">Change the task</NButton>
  </section>
</template>

<style scoped>
.asked {
  overflow-wrap: anywhere;
  max-height: 12em;
  overflow-y: auto;
  margin-bottom: 10px;
}
h2 {
  margin-bottom: 6px;
}
dl {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 6px 12px;
  margin: 0 0 14px;
}
dt {
  color: var(--ink-3);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
