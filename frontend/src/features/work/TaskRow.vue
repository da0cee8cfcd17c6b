<script setup lang="ts">
import { now } from '@/api/clock'
import KindTag from '@/shared/KindTag.vue'
import type { TaskLineOut } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime } from '@/design/format'
import Progress from '@/design/telling/Progress.vue'
import { useSession } from '@/shared/session'
import { countWords } from '@/shared/states'

/** A task in the list: when it is due, where it stands, and the way to mark it. */
defineProps<{ task: TaskLineOut; classId: number }>()
const { timeZone } = useSession()
</script>

<template>
  <li>
    <div class="what">
      <RouterLink :to="{ name: 'task', params: { classId, taskId: task.id } }"
        ><b>{{ task.title }}</b></RouterLink
      >
      <span class="small quiet">
        {{ task.due_at ? dayAndTime(task.due_at, timeZone) : 'no due time' }}
        <template v-if="task.rubric"
          >·
          <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: task.rubric.id } }">{{
            task.rubric.title
          }}</RouterLink></template
        >
        <KindTag :kind="task.kind" />
        <Tag v-if="task.practice">practice</Tag>
        <Tag v-if="task.category">{{ task.category }}</Tag>
        <Tag v-if="task.set_at === null" tone="clay">draft</Tag>
        <Tag v-else-if="Date.parse(task.set_at) > now()"
          >set {{ dayAndTime(task.set_at, timeZone) }}</Tag
        >
      </span>
    </div>
    <div class="stands">
      <Progress :done="task.done" :of="task.students - task.missing - task.excused" />
      <span class="small quiet">{{ countWords(task) }}</span>
    </div>
    <div class="mark">
      <LinkButton
        v-if="task.to_mark"
        :to="{ name: 'desk', params: { classId, taskId: task.id } }"
        :aria-label="`Mark ${task.to_mark} of ${task.title}`"
        >Mark {{ task.to_mark }}</LinkButton
      >
      <span v-else class="small quiet">{{ task.done ? 'all marked' : '' }}</span>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 4fr) 96px;
  gap: 4px 16px;
  align-items: center;
  border-bottom: 1px solid var(--line);
  padding: 9px 0;
}
.what {
  display: grid;
  gap: 1px;
  justify-items: start;
  overflow-wrap: anywhere;
}
.what .tag {
  margin-left: 6px;
}
.stands {
  display: grid;
  gap: 3px;
}
.mark {
  text-align: right;
}
@media (max-width: 640px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .stands {
    grid-row: 2;
  }
}
</style>
