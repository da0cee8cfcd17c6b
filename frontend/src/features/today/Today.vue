<script setup lang="ts">
import { nowIso } from '@/api/clock'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { clock, dayAndTime, day, several } from '@/design/format'
import Progress from '@/design/telling/Progress.vue'
import QueryState from '@/design/telling/QueryState.vue'
import KindTag from '@/shared/KindTag.vue'
import { useNoting } from '@/shared/notes/useNoting'
import { usePageTitle } from '@/shared/pageTitle'
import { useSession } from '@/shared/session'
import { countWords } from '@/shared/states'
import FewLines from './FewLines.vue'
import { useFirstPage } from './useFirstPage'
import WorthALook from './WorthALook.vue'

/** What a teacher comes back to: what waits, where they stopped, and what is worth a look. */
const { data, error, isPending, refetch } = useFirstPage()
const { data: session, timeZone } = useSession()
const noting = useNoting()
const greeting = computed(() => {
  const hour = Number(clock(nowIso(), timeZone.value).slice(0, 2))
  const part = hour < 5 || hour >= 17 ? 'evening' : hour < 12 ? 'morning' : 'afternoon'
  return `Good ${part}, ${session.value?.person?.name ?? ''}`
})
const toMark = computed(() =>
  (data.value?.waiting ?? []).reduce((sum, one) => sum + one.to_mark, 0),
)
/** Where marking goes on: the mark that was left open, or the first task that waits. */
const goOn = computed(() => {
  const { stopped, waiting } = data.value!
  if (stopped) {
    return {
      name: 'desk',
      params: {
        classId: stopped.class_id,
        taskId: stopped.task_id,
        studentId: stopped.student.id,
        ...(stopped.attempt > 1 ? { entry: stopped.attempt } : {}),
      },
    }
  }
  const first = waiting.find((one) => one.to_mark)
  return first ? { name: 'desk', params: { classId: first.class_id, taskId: first.id } } : null
})
usePageTitle('Today')
</script>

<template>
  <div class="page today">
    <div class="page-head">
      <h1>{{ greeting }}</h1>
    </div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <div v-if="data" class="columns">
      <div>
        <p class="lead">
          <template v-if="toMark"
            >{{ several(toMark, 'piece') }} of work {{ toMark === 1 ? 'waits' : 'wait' }} to be
            marked.</template
          ><template v-else>Nothing waits to be marked.</template>
          <template v-if="data.stopped">
            You stopped at {{ data.stopped.student.name }}, {{ data.stopped.task }},
            {{ dayAndTime(data.stopped.at, timeZone) }}.</template
          >
        </p>
        <div class="row">
          <LinkButton v-if="goOn" main :to="goOn">{{
            data.stopped ? 'Go on marking' : 'Begin marking'
          }}</LinkButton>
          <NButton @click="noting.open(0)">Write a note <kbd>W</kbd></NButton>
        </div>
        <section v-if="data.waiting.length" aria-labelledby="pile">
          <h2 id="pile">Marking pile</h2>
          <FewLines v-slot="{ shown }" :lines="data.waiting" what="task">
            <ul>
              <li v-for="task in shown" :key="task.id" class="task">
                <div>
                  <RouterLink
                    :to="{
                      name: task.to_mark ? 'desk' : 'task',
                      params: { classId: task.class_id, taskId: task.id },
                    }"
                    ><b>{{ task.title }}</b></RouterLink
                  >
                  <KindTag :kind="task.kind" />
                  <p class="small quiet">{{ task.class_name }}</p>
                </div>
                <div>
                  <Progress :done="task.done" :of="task.done + task.to_mark" />
                  <span class="small quiet">{{ task.done }} of {{ task.done + task.to_mark }}</span>
                </div>
                <span class="count">
                  <span v-if="task.to_mark"
                    ><b>{{ task.to_mark }}</b> to mark</span
                  >
                  <RouterLink
                    v-if="task.asking"
                    class="small"
                    :to="{ name: 'task', params: { classId: task.class_id, taskId: task.id } }"
                    >{{ several(task.asking, 'asks', 'ask') }} again</RouterLink
                  >
                </span>
              </li>
            </ul>
          </FewLines>
        </section>
        <section v-if="data.to_hand_back.length" aria-labelledby="back">
          <h2 id="back">Marked, and not handed back</h2>
          <FewLines v-slot="{ shown }" :lines="data.to_hand_back" what="task">
            <ul>
              <li v-for="one in shown" :key="one.task_id" class="line">
                <span
                  ><b>{{ one.task }}</b>
                  <span class="klass small quiet">{{ one.class_name }}</span></span
                >
                <RouterLink
                  :to="{
                    name: 'task',
                    params: { classId: one.class_id, taskId: one.task_id },
                    query: { open: 'hand-back' },
                  }"
                  >hand back to {{ several(one.students, 'student') }}</RouterLink
                >
              </li>
            </ul>
          </FewLines>
        </section>
        <section aria-labelledby="coming">
          <h2 id="coming">Due in the next two weeks</h2>
          <p v-if="!data.coming.length" class="quiet">Nothing is due.</p>
          <FewLines v-slot="{ shown }" :lines="data.coming" what="task">
            <ul>
              <li v-for="task in shown" :key="task.id" class="line">
                <span
                  ><span class="day">{{ day(task.due_at!, timeZone) }}</span>
                  <RouterLink
                    :to="{ name: 'task', params: { classId: task.class_id, taskId: task.id } }"
                    ><b>{{ task.title }}</b></RouterLink
                  >
                  <span class="klass small quiet">{{ task.class_name }}</span></span
                >
                <span class="small quiet">{{ countWords(task) }}</span>
              </li>
            </ul>
          </FewLines>
        </section>
      </div>
      <WorthALook :page="data" />
    </div>
  </div>
</template>

<style scoped>
.today {
  max-width: 1320px;
  overflow-wrap: anywhere;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 11fr) minmax(0, 9fr);
  gap: 8px 34px;
  align-items: start;
}
.lead {
  color: var(--ink-2);
  margin-bottom: 12px;
}
section {
  margin-top: 20px;
}
h2 {
  padding-bottom: 4px;
  border-bottom: 1px solid var(--edge);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--line);
  padding: 8px 0;
}
.task {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 150px 84px;
  gap: 14px;
  align-items: center;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  justify-content: space-between;
  align-items: baseline;
}
.klass,
.task a + :not(p) {
  margin-left: 6px;
}
.klass {
  display: inline-block;
}
.task a + :not(p) {
  white-space: nowrap;
}
.day {
  display: inline-block;
  min-width: 64px;
  color: var(--ink-2);
}
.count {
  display: grid;
  justify-items: end;
  text-align: right;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  .task {
    grid-template-columns: minmax(0, 1fr) 84px;
  }
  .task > :nth-child(2) {
    display: none;
  }
}
</style>
