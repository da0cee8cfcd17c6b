<script setup lang="ts">
import { NTable } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TaskOverTermOut } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import { day } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { useSession } from '@/shared/session'
import LevelBars from './LevelBars.vue'
import TaskLines from './TaskLines.vue'
import { useClassTasks } from './useOverTerm'

/** What came of each task, over tasks as lines; the spread of each criterion, at one and over all. */
const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useClassTasks(() => props.classId)
const numbered = computed(
  () =>
    new Map(
      (data.value ?? []).filter((one) => one.mean !== null).map((one, at) => [one.id, at + 1]),
    ),
)
const chosen = computed(() => data.value?.find((one) => one.id === Number(route.query.task)))
const choose = (one: TaskOverTermOut) =>
  void router.replace({
    query: { ...route.query, task: one.id === chosen.value?.id ? undefined : one.id },
  })
/** Criteria that several tasks ask, by the key that is the same in every revision and copy. */
const again = computed(() => {
  const found = new Map<string, { title: string; tasks: { task: TaskOverTermOut; at: number }[] }>()
  for (const task of data.value ?? []) {
    task.criteria.forEach((criterion, at) => {
      const one = found.get(criterion.key) ?? { title: criterion.title, tasks: [] }
      one.title = criterion.title
      one.tasks.push({ task, at })
      found.set(criterion.key, one)
    })
  }
  return [...found.entries()].filter(([, one]) => one.tasks.length > 1)
})
const percent = (share: string | null) => (share === null ? '' : `${share}%`)
</script>

<template>
  <QueryState :error="error" :pending="isPending" @again="refetch()" />
  <EmptyState v-if="data && !data.length" title="Nothing is marked yet">
    As soon as work is marked, each task stands here with its mean and how each criterion fell.
    <template #steps
      ><LinkButton main :to="{ name: 'tasks', params: { classId } }"
        >See the tasks</LinkButton
      ></template
    >
  </EmptyState>
  <template v-else-if="data">
    <h2>Task by task</h2>
    <TaskLines :tasks="data" />
    <p class="small quiet">
      The mean of each task as a line, from the lowest to the top total (dashed), in the order of
      the table.
    </p>
    <div class="scroll" tabindex="0" role="region" aria-label="Tasks over the term">
      <NTable class="list" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Task</th>
            <th scope="col">Due</th>
            <th scope="col" class="num">Students</th>
            <th scope="col" class="num">Mean</th>
            <th scope="col" class="num">Top</th>
            <th scope="col" class="num">Lowest</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="task in data" :key="task.id">
            <tr>
              <th scope="row">
                <button
                  type="button"
                  :aria-expanded="chosen?.id === task.id"
                  title="How each criterion fell"
                  @click="choose(task)"
                >
                  {{ chosen?.id === task.id ? '▾' : '▸' }}
                  {{ numbered.has(task.id) ? `${numbered.get(task.id)}.` : '' }} {{ task.title }}
                </button>
              </th>
              <td>{{ task.due_at ? day(task.due_at, timeZone) : '' }}</td>
              <td class="num">{{ task.students }}</td>
              <td class="num">{{ percent(task.mean) }}</td>
              <td class="num">{{ percent(task.top) }}</td>
              <td class="num">{{ percent(task.lowest) }}</td>
            </tr>
            <tr v-if="chosen?.id === task.id">
              <td colspan="6">
                <div class="cards">
                  <section v-for="one in task.criteria" :key="one.key">
                    <h3>{{ one.title }}</h3>
                    <LevelBars
                      :levels="one.levels"
                      :counts="one.fallen.counts"
                      :half="one.fallen.half"
                    />
                    <p class="small quiet">
                      <template v-if="one.mean !== null"
                        >mean level {{ one.mean }} of {{ one.levels.length }}</template
                      ><template v-else>nothing chosen</template
                      ><template v-if="one.not_assessed">
                        · {{ one.not_assessed }} not assessed</template
                      >
                    </p>
                  </section>
                </div>
                <RouterLink :to="{ name: 'task', params: { classId, taskId: task.id } }"
                  >Open the task</RouterLink
                >
              </td>
            </tr>
          </template>
        </tbody>
      </NTable>
    </div>
    <section v-if="again.length" aria-labelledby="criteria">
      <h2 id="criteria">Criteria over the term</h2>
      <p class="small quiet">Those that several tasks ask, task by task.</p>
      <article v-for="[key, one] in again" :key="key" class="criterion">
        <h3>{{ one.title }}</h3>
        <div class="cards">
          <section v-for="{ task, at } in one.tasks" :key="task.id">
            <b class="small">{{ task.title }}</b>
            <LevelBars
              small
              :levels="task.criteria[at]!.levels"
              :counts="task.criteria[at]!.fallen.counts"
              :half="task.criteria[at]!.fallen.half"
            />
            <p v-if="task.criteria[at]!.mean !== null" class="small quiet">
              mean level {{ task.criteria[at]!.mean }}
            </p>
          </section>
        </div>
      </article>
    </section>
  </template>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  margin-bottom: 18px;
}
th,
td {
  vertical-align: middle;
}
th[scope='row'] {
  font-weight: 400;
}
button {
  border: 0;
  background: none;
  padding: 4px 0;
  font: inherit;
  font-weight: 600;
  color: inherit;
  cursor: pointer;
  text-align: left;
}
.num {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 10px 22px;
}
.criterion {
  border-top: 1px solid var(--line);
  padding: 8px 0;
}
h3 {
  font-size: 15px;
  margin: 4px 0;
}
</style>
