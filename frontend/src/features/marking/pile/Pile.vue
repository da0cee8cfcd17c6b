<script setup lang="ts">
import KindTag from '@/shared/KindTag.vue'
import { NCheckbox } from 'naive-ui'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import TextField from '@/design/controls/TextField.vue'
import SelectField from '@/design/controls/SelectField.vue'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime, duration, several } from '@/design/format'
import { searcher } from '@/design/search'
import EmptyState from '@/design/telling/EmptyState.vue'
import Progress from '@/design/telling/Progress.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { useSession } from '@/shared/session'
import { countWords, stateWords } from '@/shared/states'
import { inPileOrder, ORDERS, type PileOrder } from './orders'
import { useGoingOn, usePile } from './usePile'
import { isWatched } from '@/shared/kinds'

/** All that waits to be marked: of this class, or of all one's classes. */
const props = defineProps<{ classId: number }>()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = usePile()
const reach = useLocalStorage<'class' | 'all'>('jade-ladder.pile.reach', 'class')
const order = useLocalStorage<PileOrder>('jade-ladder.pile.order', 'task')
const goingOn = useGoingOn()
const here = computed(() =>
  (data.value?.tasks ?? []).filter(
    (one) => reach.value === 'all' || one.class_id === props.classId,
  ),
)
const wanted = ref('')
const has = computed(() => searcher(wanted.value))
/** Tasks that are searched for, or on which a student who is waits. */
const tasks = computed(() =>
  here.value.filter(
    (task) =>
      has.value(task.title) ||
      data.value!.students.some((one) => one.task_id === task.id && has.value(one.student.name)),
  ),
)
const elsewhere = computed(() =>
  (data.value?.tasks ?? [])
    .filter((one) => one.class_id !== props.classId)
    .reduce((sum, one) => sum + one.to_mark, 0),
)
const taskOf = computed(() => new Map(tasks.value.map((one) => [one.id, one])))
const students = computed(() =>
  inPileOrder(
    (data.value?.students ?? []).filter((one) => {
      const task = taskOf.value.get(one.task_id)
      return task !== undefined && (has.value(task.title) || has.value(one.student.name))
    }),
    order.value,
  ),
)
const when = (iso: string | null) => (iso ? dayAndTime(iso, timeZone.value) : 'no time')
usePageTitle('Marking pile')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>Marking pile</h1>
      <div class="actions ways">
        <RouterLink :to="{ name: 'bank' }" class="small">Remark bank</RouterLink>
        <TextField
          v-model="wanted"
          bare
          class="way"
          type="search"
          label="Search the pile"
          placeholder="Search task, student"
        />
        <SelectField v-model="reach" label="Show" class="way">
          <option value="class">this class</option>
          <option value="all">
            all my classes{{ elsewhere ? ` (${elsewhere} elsewhere)` : '' }}
          </option>
        </SelectField>
        <SelectField v-model="order" label="Order" class="way">
          <option v-for="one in ORDERS" :key="one.name" :value="one.name">{{ one.label }}</option>
        </SelectField>
      </div>
    </div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <p v-if="data && here.length && !tasks.length" class="quiet" role="status">
      Nothing that waits has these words.
    </p>
    <EmptyState v-else-if="data && !tasks.length" title="Nothing waits to be marked">
      Work comes here as it is handed in or entered. Missing and excused work never does.
      <template v-if="elsewhere && reach === 'class'"
        >{{ elsewhere }} wait in your other classes.</template
      >
      <template #steps
        ><LinkButton :to="{ name: 'tasks', params: { classId } }"
          >See the tasks</LinkButton
        ></template
      >
    </EmptyState>
    <template v-else-if="data">
      <NCheckbox v-model:checked="goingOn" class="on"
        >Once a task is done, go on with the next one</NCheckbox
      >
      <ul v-if="order === 'task'">
        <li v-for="task in tasks" :key="task.id" class="task">
          <div>
            <b>{{ task.title }}</b> <KindTag :kind="task.kind" />
            <p class="small quiet">
              <template v-if="reach === 'all'">{{ task.class_name }} · </template
              >{{ task.due_at ? `due ${dayAndTime(task.due_at, timeZone)}` : 'no due time' }}
            </p>
          </div>
          <div>
            <Progress :done="task.done" :of="task.done + task.to_mark" />
            <span class="small quiet">{{ countWords(task) }}</span>
          </div>
          <LinkButton
            v-if="isWatched(task.kind)"
            :to="{ name: 'observe', params: { classId: task.class_id, taskId: task.id } }"
            >Observe</LinkButton
          >
          <LinkButton
            v-if="task.to_mark"
            main
            :to="{ name: 'desk', params: { classId: task.class_id, taskId: task.id } }"
            >Mark {{ task.to_mark }}</LinkButton
          >
          <LinkButton
            v-if="task.asking"
            :to="{ name: 'task', params: { classId: task.class_id, taskId: task.id } }"
            :aria-label="`Answer ${several(task.asking, 'student')} who asked again at ${task.title}`"
            >Answer {{ task.asking }}</LinkButton
          >
        </li>
      </ul>
      <ul v-else aria-label="Students whose work waits">
        <li v-for="one in students" :key="`${one.task_id} ${one.student.id}`" class="student">
          <div>
            <RouterLink
              :to="{
                name: 'desk',
                params: {
                  classId: taskOf.get(one.task_id)!.class_id,
                  taskId: one.task_id,
                  studentId: one.student.id,
                },
              }"
              ><b>{{ one.student.name }}</b></RouterLink
            >
            <p class="small quiet">
              {{ taskOf.get(one.task_id)!.title
              }}<template v-if="reach === 'all'">
                · {{ taskOf.get(one.task_id)!.class_name }}</template
              >
            </p>
          </div>
          <span class="quiet"
            >{{ when(one.student.done_at) }}
            <span v-if="one.student.late_minutes" class="clay"
              >{{ duration(one.student.late_minutes) }} late</span
            ></span
          >
          <span>
            <Tag v-if="one.student.attempt > 1">attempt {{ one.student.attempt }}</Tag>
            <Tag
              :tone="stateWords(one.student.state, one.student.left).clay ? 'clay' : undefined"
              >{{ stateWords(one.student.state, one.student.left).text }}</Tag
            >
          </span>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 960px;
}
li {
  display: grid;
  grid-template-columns: 1fr 320px 110px;
  gap: 16px;
  align-items: center;
  padding: 12px 0;
  border-top: 1px solid var(--line);
}
.student {
  grid-template-columns: 1fr 260px 170px;
  padding: 8px 0;
}
.ways {
  align-items: end;
}
.way {
  min-width: 170px;
  margin: 0;
}
.on {
  margin-bottom: 12px;
}
@media (max-width: 600px) {
  li,
  .student {
    grid-template-columns: 1fr;
    gap: 8px;
  }
}
</style>
