<script setup lang="ts">
import { NTable } from 'naive-ui'
import Tag from '@/design/controls/Tag.vue'
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { useClass } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import { useScales } from '@/shared/scales'
import { useSession } from '@/shared/session'
import ClassLadder from '@/design/ClassLadder.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { day, longDay, several } from '@/design/format'
import OutcomePanel from '@/features/outcomes/OutcomePanel.vue'
import { useOutcomes } from '@/features/outcomes/useOutcomes'
import { usePageTitle } from '@/shared/pageTitle'

/** One outcome: where it is assessed, the class on it over time, and its settings. */
const props = defineProps<{ classId: number; outcomeId: number }>()
const { timeZone } = useSession()
const klass = useClass(() => props.classId)
const { data: scales } = useScales()
const { data: all } = useOutcomes(() => props.classId)
const {
  data: page,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.outcomePage(props.classId, props.outcomeId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/outcomes/{outcome_id}', {
        params: { path: { class_id: props.classId, outcome_id: props.outcomeId } },
      }),
    ),
})
const outcome = computed(
  () => all.value?.outcomes.find((one) => one.id === props.outcomeId) ?? page.value?.outcome,
)
const scale = computed(() => scales.value?.find((one) => one.id === outcome.value?.scale_id))
const now = computed(() => page.value?.pictures.at(-1))
usePageTitle(() => outcome.value && `${outcome.value.code} ${outcome.value.title}`)
</script>

<template>
  <div class="split">
    <div class="page">
      <RouterLink class="small" :to="{ name: 'outcomes', params: { classId } }"
        >All outcomes</RouterLink
      >
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <template v-if="page && outcome">
        <h1>{{ outcome.code }} · {{ outcome.title }}</h1>
        <p v-if="outcome.description" class="quiet">{{ outcome.description }}</p>
        <p v-if="page.classes.length" class="small">
          Also taught in {{ page.classes.join(', ') }}.
          <RouterLink :to="{ name: 'all-classes', params: { classId, outcomeId } }"
            >In all my classes</RouterLink
          >
        </p>

        <section>
          <h2>The class over time</h2>
          <p v-if="!now" class="quiet">Nothing marked so far says anything about it.</p>
          <template v-else>
            <p>
              <b>{{ now.mastered }} of {{ now.counted }}</b> at mastery<template v-if="now.needing"
                >, {{ now.needing }} need more evidence</template
              ><template v-if="now.without">, {{ now.without }} without evidence</template>.
            </p>
            <ol v-if="scale" class="pictures">
              <li v-for="one in page.pictures" :key="`${one.day} ${one.task}`">
                <ClassLadder
                  :at-level="one.at_level"
                  :mastery-level="scale.mastery_level"
                  :label="`After ${one.task}, ${longDay(one.day)}: ${one.mastered} of ${one.counted} at mastery`"
                />
                <span class="small">{{ one.mastered }} of {{ one.counted }}</span>
                <span class="small quiet">{{ day(one.day, 'UTC') }}</span>
                <span class="small">{{ one.task }}</span>
              </li>
            </ol>
          </template>
        </section>

        <section>
          <h2>Tasks that assess it</h2>
          <p v-if="!page.tasks.length" class="quiet">
            None yet: set a task with a rubric that is aligned to it.
          </p>
          <div v-else class="table-scroll">
            <NTable class="list" size="small">
              <thead>
                <tr>
                  <th>Task</th>
                  <th>Day</th>
                  <th>Criteria</th>
                  <th>Students with evidence</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="task in page.tasks" :key="task.id">
                  <td>
                    <RouterLink :to="{ name: 'task', params: { classId, taskId: task.id } }">{{
                      task.title
                    }}</RouterLink>
                    <Tag v-if="task.practice">practice</Tag>
                  </td>
                  <td>{{ day(task.day, timeZone) }}</td>
                  <td>{{ task.criteria }}</td>
                  <td>{{ task.students || 'none yet' }}</td>
                </tr>
              </tbody>
            </NTable>
          </div>
        </section>

        <section>
          <h2>Criteria that are evidence for it</h2>
          <p v-if="!page.criteria.length" class="quiet">
            None of your rubrics is aligned to it yet.
          </p>
          <div v-else class="table-scroll">
            <NTable class="list" size="small">
              <thead>
                <tr>
                  <th>Criterion</th>
                  <th>Rubric</th>
                  <th>Can reach</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(one, index) in page.criteria" :key="index">
                  <td>{{ one.criterion }}</td>
                  <td>
                    <RouterLink
                      :to="{ name: 'rubric', params: { classId, rubricId: one.rubric_id } }"
                      >{{ one.rubric }}</RouterLink
                    >
                    <span class="quiet small beside"
                      >{{ one.final ? '' : 'draft, '
                      }}{{ one.tasks ? several(one.tasks, 'task') : 'no task yet' }}</span
                    >
                  </td>
                  <td>{{ one.highest ?? 'nothing' }}</td>
                </tr>
              </tbody>
            </NTable>
          </div>
        </section>
      </template>
    </div>
    <aside v-if="klass && outcome" class="side" aria-label="Settings">
      <OutcomePanel
        :klass="klass"
        :outcome="outcome"
        :strands="all?.strands ?? []"
        :scales="scales ?? []"
        own-page
      />
    </aside>
  </div>
</template>

<style scoped>
section {
  margin-top: 22px;
  display: grid;
  gap: 8px;
}
h1 {
  margin: 4px 0;
}
.pictures {
  list-style: none;
  margin: 4px 0 0;
  padding: 12px 14px;
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  display: flex;
  flex-wrap: wrap;
  gap: 14px 22px;
}
.beside {
  margin-left: 8px;
}
.pictures li {
  display: grid;
  gap: 2px;
  justify-items: center;
  align-content: start;
  text-align: center;
  max-width: 110px;
}
</style>
