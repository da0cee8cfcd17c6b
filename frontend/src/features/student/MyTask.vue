<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Ladder from '@/design/Ladder.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import Notice from '@/design/telling/Notice.vue'
import { dayAndTime, fileSize } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import RubricBefore from './RubricBefore.vue'
import HandIn from './HandIn.vue'

/** A task: what is asked, what counts, and handing in. */
const props = defineProps<{ taskId: number }>()
const { timeZone } = useSession()
const path = { params: { path: { task_id: props.taskId } } }
let opened = false
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.ownTask(props.taskId),
  query: async () => {
    if (!opened) {
      // The teacher sees who has opened it, and one gets a copy of what the task starts with. Where
      // that does not go through, it is sent with the next look.
      opened = await ask(api.POST('/api/my/tasks/{task_id}/opened', path)).then(
        () => true,
        () => false,
      )
    }
    return ask(api.GET('/api/my/tasks/{task_id}', path))
  },
})
const task = computed(() => data.value?.task)
const refresh = useRefresh().own
const when = (iso: string) => dayAndTime(iso, timeZone.value)
usePageTitle(() => task.value?.title)
</script>

<template>
  <QueryState v-if="!data" class="page" :error="error" :pending="isPending" @again="refetch()" />
  <div v-else-if="task" class="split">
    <div class="page">
      <h1>{{ task.title }}</h1>
      <p class="quiet lead">
        {{ task.class_name }} · {{ task.further ? `attempt ${task.attempt}, ` : ''
        }}{{ task.due_at ? `due ${when(task.due_at)}` : 'no due time'
        }}<template v-if="task.closes_at"> · closes {{ when(task.closes_at) }}</template>
        <template v-if="task.practice"> · practice</template>
      </p>
      <Notice v-if="task.back_number" class="gap">
        Handed back {{ when(task.back_at!) }}.
        <LinkButton
          :to="{ name: 'my-result', params: { taskId, attempt: task.back_number } }"
          class="look"
          >See your levels and remarks</LinkButton
        >
      </Notice>
      <!-- The server has cleaned it: formats/markdown.py. -->
      <!-- eslint-disable-next-line vue/no-v-html -->
      <div v-if="data.instructions" class="instructions" v-html="data.instructions" />
      <ul v-if="data.files.length" class="files" aria-label="Files of the task">
        <li v-for="file in data.files" :key="file.id">
          <a :href="`/api/my/task-files/${file.id}`" :download="file.name">{{ file.name }}</a>
          <span class="small quiet"> {{ fileSize(file.size) }}</span>
        </li>
      </ul>
      <HandIn :key="data.task.attempt" :page="data" @changed="refresh()" />
    </div>
    <aside class="side" aria-label="What counts">
      <section v-if="data.outcomes.length">
        <h2>What it is about</h2>
        <ul>
          <li v-for="one in data.outcomes" :key="one.id">
            <Ladder
              :level="one.mastery.level"
              :levels="one.scale.levels.length"
              :mastery-level="one.scale.mastery_level"
              :uncertain="one.mastery.state === 'needs-evidence'"
              :size="22"
            />
            <div>
              {{ one.title }}
              <p class="small quiet">
                <template v-if="one.mastery.level === null">no evidence yet</template>
                <template v-else>
                  {{ one.scale.levels[one.mastery.level]!.name
                  }}<template v-if="one.mastery.state === 'mastered'">, mastered</template>
                </template>
              </p>
              <p v-if="one.scale.levels[(one.mastery.level ?? -1) + 1]?.description" class="small">
                <b>{{ one.scale.levels[(one.mastery.level ?? -1) + 1]!.name }}:</b>
                {{ one.scale.levels[(one.mastery.level ?? -1) + 1]!.description }}
              </p>
            </div>
          </li>
        </ul>
      </section>
      <h2 v-if="data.criteria.length">What counts</h2>
      <RubricBefore :criteria="data.criteria" />
      <p v-if="!data.criteria.length" class="quiet small">
        Your teacher shows the rubric when the work is handed back.
      </p>
    </aside>
  </div>
</template>

<style scoped>
.lead {
  margin: 4px 0 14px;
}
.gap {
  margin-bottom: 14px;
}
.look {
  margin-left: 8px;
}
.instructions {
  max-width: 68ch;
  font-size: 15.5px;
  line-height: 1.55;
  margin-bottom: 20px;
  overflow-wrap: anywhere;
}
.instructions :deep(p) {
  margin-bottom: 10px;
}
.instructions :deep(table) {
  border-collapse: collapse;
  display: block;
  overflow-x: auto;
}
.instructions :deep(td),
.instructions :deep(th) {
  border: 1px solid var(--line);
  padding: 3px 8px;
  text-align: start;
}
.files {
  list-style: none;
  margin: 0 0 20px;
  padding: 0;
  overflow-wrap: anywhere;
}
.files li {
  align-items: baseline;
  border: 0;
}
.side section {
  margin-bottom: 18px;
}
.side h2 {
  margin-bottom: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 10px;
  padding: 7px 0;
  border-bottom: 1px solid var(--line);
}
</style>
