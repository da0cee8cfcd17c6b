<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { OwnTaskOut } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import Tag from '@/design/controls/Tag.vue'
import Ladder from '@/design/Ladder.vue'
import { dayAndTime, several } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { useOwnTasks } from '@/shared/student/ownTasks'
import BackCard from './BackCard.vue'
import MyMessages from './MyMessages.vue'
import { dueWords, nextWords } from './words'

/** A student's first page: what is due, what to do again, what was handed back, where I stand. */
const { timeZone } = useSession()
const { again, due, waiting, missed, back, data, error, isPending, refetch } = useOwnTasks()
const { data: ladders } = useQuery({
  key: keys.ownLadder(null),
  query: () => ask(api.GET('/api/my/ladder')),
})
const present = computed(() => (ladders.value ?? []).filter((one) => one.until === null))
/** The nearest thing to climb: not mastered yet, with the least that is missing. */
const close = computed(
  () =>
    present.value
      .flatMap((one) => one.rungs)
      .filter((rung) => rung.mastery.state === 'not-yet' && rung.next_piece)
      .sort(
        (one, other) =>
          Number(one.mastery_cut) -
          Number(one.mastery.value) -
          (Number(other.mastery_cut) - Number(other.mastery.value)),
      )[0],
)
/** The outcomes that a task is about, with one's own ladder on each. */
const aboutOf = (task: OwnTaskOut) =>
  (ladders.value ?? [])
    .filter((one) => one.class_id === task.class_id)
    .flatMap((one) => one.rungs.filter((rung) => task.about.includes(rung.id)))
const to = (task: OwnTaskOut) => ({ name: 'my-task', params: { taskId: task.id } })
const when = (iso: string) => dayAndTime(iso, timeZone.value)
usePageTitle('My work')
</script>

<template>
  <div class="page narrow">
    <h1 class="visually-hidden">My work</h1>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <div v-else class="columns">
      <section aria-labelledby="due">
        <h2 id="due">Due</h2>
        <p v-if="!due.length" class="quiet none">Nothing is due.</p>
        <article v-for="task in due" :key="task.id" class="card main">
          <div class="row head">
            <h3>
              <RouterLink :to="to(task)">{{ task.title }}</RouterLink>
            </h3>
            <Tag v-if="task.due_at" class="push" :tone="dueWords(task).clay ? 'clay' : undefined">{{
              dueWords(task).text
            }}</Tag>
          </div>
          <p class="small quiet">
            {{ task.due_at ? when(task.due_at) : 'No due time' }} · {{ task.class_name }}
          </p>
          <ul v-if="aboutOf(task).length">
            <li v-for="rung in aboutOf(task)" :key="rung.id" class="small">
              <Ladder
                :level="rung.mastery.level"
                :levels="rung.scale.levels.length"
                :mastery-level="rung.scale.mastery_level"
                :uncertain="rung.mastery.state === 'needs-evidence'"
              />
              {{ rung.title }}
            </li>
          </ul>
          <LinkButton main class="go" :to="to(task)">
            {{ task.drafted_at ? 'Go on writing' : 'Begin' }}
          </LinkButton>
        </article>
      </section>
      <section v-if="again.length" aria-labelledby="again">
        <h2 id="again">To do again</h2>
        <article v-for="task in again" :key="task.id" class="card">
          <h3>
            <RouterLink :to="to(task)">{{ task.title }}</RouterLink>
          </h3>
          <p class="small quiet">
            {{ `Attempt ${task.attempt}` }} is open,
            {{ task.due_at ? `due ${when(task.due_at)}` : 'without a due time'
            }}<template v-if="task.answer">: “{{ task.answer }}”</template>
          </p>
        </article>
      </section>
      <MyMessages />
      <section v-if="back.length" aria-labelledby="back">
        <h2 id="back">Handed back</h2>
        <BackCard v-for="task in back.slice(0, 3)" :key="task.id" :task="task" />
        <p v-if="back.length > 3" class="small">
          <RouterLink :to="{ name: 'my-results' }">All {{ back.length }} handed back</RouterLink>
        </p>
      </section>
      <section v-if="waiting.length" aria-labelledby="waiting">
        <h2 id="waiting">Handed in</h2>
        <article v-for="task in waiting" :key="task.id" class="card">
          <h3>
            <RouterLink :to="to(task)">{{ task.title }}</RouterLink>
          </h3>
          <p class="small quiet">
            {{ task.handed_in_at ? when(task.handed_in_at) : 'on paper' }} · not handed back yet
          </p>
        </article>
      </section>
      <section v-if="missed.length" aria-labelledby="missed">
        <h2 id="missed">Closed without your work</h2>
        <article v-for="task in missed" :key="task.id" class="card">
          <h3>
            <RouterLink :to="to(task)">{{ task.title }}</RouterLink>
          </h3>
          <p class="small clay">Speak to your teacher: they can open another attempt.</p>
        </article>
      </section>
      <section v-if="present.length" aria-labelledby="stand">
        <h2 id="stand">Where I stand</h2>
        <article class="card">
          <p v-for="one in present" :key="one.class_id">
            <RouterLink :to="{ name: 'my-ladder' }"
              ><b>{{ one.mastered }} of {{ several(one.of, 'outcome') }}</b> mastered</RouterLink
            >
            <span class="quiet small"> · {{ one.class_name }}</span>
          </p>
          <p v-if="close" class="small close">
            <Ladder
              :level="close.mastery.level"
              :levels="close.scale.levels.length"
              :mastery-level="close.scale.mastery_level"
            />
            <span>Close: “{{ close.title }}”. {{ nextWords(close) }}</span>
          </p>
        </article>
      </section>
      <EmptyState v-if="!data.length && !present.length" title="Nothing here yet">
        What your teachers set for you stands here, and what they hand back.
      </EmptyState>
    </div>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 1040px;
}
.columns {
  columns: 2 420px;
  column-gap: 28px;
}
section {
  margin-bottom: 20px;
  break-inside: avoid;
}
section > h2 {
  margin-bottom: 8px;
}
.card {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 14px;
  margin-bottom: 8px;
}
.card.main {
  border-color: var(--ink);
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}
.head {
  align-items: flex-start;
}
.go {
  margin-top: 10px;
  width: 100%;
  min-height: 44px;
}
.close {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.none {
  margin-bottom: 8px;
}
</style>
