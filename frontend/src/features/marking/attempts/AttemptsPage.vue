<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { CriterionOut, WorkAtDeskOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime, levelSign, several } from '@/design/format'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { briefOf } from '@/shared/passages/passages'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { textDiff, type Stretch } from './textDiff'

/** The attempts of a student at a task side by side: levels, remarks, totals, and what changed. */
const props = defineProps<{ classId: number; taskId: number; studentId: number }>()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.attempts(props.taskId, props.studentId),
  query: fetchAll,
  staleTime: 0,
})

async function fetchAll() {
  const path = { task_id: props.taskId, student_id: props.studentId }
  const at = (attempt: number) =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}', {
        params: { path: { ...path, attempt } },
      }),
    )
  const [desk, first] = await Promise.all([
    ask(api.GET('/api/tasks/{task_id}/desk', { params: { path: { task_id: props.taskId } } })),
    at(1),
  ])
  const numbers = Array.from({ length: first.mark.attempts - 1 }, (_, place) => place + 2)
  return { desk, works: [first, ...(await Promise.all(numbers.map(at)))] }
}

const works = computed(() => data.value?.works ?? [])
const name = computed(() => works.value[0]?.mark.student.name ?? '')
const textOf = (work: WorkAtDeskOut | undefined) =>
  work?.parts
    .filter((part) => part.kind === 'text')
    .map((part) => part.text)
    .join('\n\n') ?? ''

function choiceOf(work: WorkAtDeskOut, criterion: CriterionOut) {
  const choice = work.mark.choices.find((one) => one.criterion_id === criterion.id)
  const level = criterion.levels.find((one) => one.id === choice?.level_id)
  const words = level
    ? levelSign(level.name, choice?.half_way)
    : choice?.not_assessed
      ? 'not assessed'
      : 'not marked'
  return { words, from: choice?.carried_from ?? null }
}
const remarkOf = (work: WorkAtDeskOut, id: number | null) =>
  work.mark.remarks.find((one) => one.criterion_id === id)?.text
const passagesOf = (work: WorkAtDeskOut, id: number) =>
  work.passages.filter((one) => one.criterion_id === id)

/** The last two that have a text, and what changed between them. */
const texts = computed(() => works.value.filter((work) => textOf(work)).slice(-2))
const changed = ref<Stretch[] | null>(null)
const looking = ref(false)
watch(
  texts,
  async ([before, after]) => {
    changed.value = null
    if (!before || !after) return
    looking.value = true
    const found = await textDiff(textOf(before), textOf(after))
    if (texts.value[1] !== after) return
    changed.value = found
    looking.value = false
  },
  { immediate: true },
)
usePageTitle(() => data.value && `Attempts of ${name.value}`)
</script>

<template>
  <div class="page">
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="page-head">
        <h1>{{ data.desk.task.title }}: attempts of {{ name }}</h1>
        <div class="actions">
          <RouterLink :to="{ name: 'desk', params: { classId, taskId, studentId } }"
            >Back to the desk</RouterLink
          >
        </div>
      </div>
      <div class="scroll" tabindex="0" role="region" aria-label="Attempts side by side">
        <table>
          <thead>
            <tr>
              <th scope="col">Criterion</th>
              <th v-for="work in works" :key="work.mark.attempt" scope="col">
                <RouterLink
                  :to="{
                    name: 'desk',
                    params: { classId, taskId, studentId, entry: work.mark.attempt },
                  }"
                  >Attempt {{ work.mark.attempt }}</RouterLink
                >
                <span class="small quiet block">{{
                  work.mark.student.done_at
                    ? dayAndTime(work.mark.student.done_at, timeZone)
                    : work.parts.length
                      ? 'not marked yet'
                      : 'nothing in it yet'
                }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="criterion in data.desk.criteria" :key="criterion.id">
              <th scope="row">{{ criterion.title }}</th>
              <td v-for="work in works" :key="work.mark.attempt">
                <b>{{ choiceOf(work, criterion).words }}</b>
                <Tag v-if="choiceOf(work, criterion).from" class="beside"
                  >carried over from {{ choiceOf(work, criterion).from }}</Tag
                >
                <p v-if="remarkOf(work, criterion.id)" class="small" dir="auto">
                  “{{ remarkOf(work, criterion.id) }}”
                </p>
                <p
                  v-for="one in passagesOf(work, criterion.id)"
                  :key="one.key"
                  class="small"
                  dir="auto"
                >
                  {{ one.number }}: {{ one.text }}
                  <span class="quiet">on {{ briefOf(one.place) }}</span>
                </p>
              </td>
            </tr>
            <tr>
              <th scope="row">On the whole</th>
              <td v-for="work in works" :key="work.mark.attempt" dir="auto">
                {{ remarkOf(work, null) ? `“${remarkOf(work, null)}”` : '–' }}
              </td>
            </tr>
            <tr>
              <th scope="row">Total</th>
              <td v-for="work in works" :key="work.mark.attempt">
                <template v-if="work.mark.total"
                  >{{ work.mark.total.value }} of {{ work.mark.total.out_of
                  }}{{ work.mark.finished ? '' : ', so far' }}</template
                >
                <template v-else>–</template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <template v-if="texts.length === 2">
        <h2>
          What changed in the text, from attempt {{ texts[0]!.mark.attempt }} to
          {{ texts[1]!.mark.attempt }}
        </h2>
        <p v-if="looking" class="quiet" role="status">Comparing …</p>
        <article v-else-if="changed" class="sheet" dir="auto">
          <template v-for="(one, at) in changed" :key="at"
            ><ins v-if="one.what === 'added'"
              ><span class="visually-hidden"> added: </span>{{ one.text }}</ins
            ><del v-else-if="one.what === 'removed'"
              ><span class="visually-hidden"> removed: </span>{{ one.text }}</del
            ><template v-else>{{ one.text }}</template></template
          >
        </article>
        <div v-else class="both">
          <article v-for="work in texts" :key="work.mark.attempt" class="sheet" dir="auto">
            <h3>Attempt {{ work.mark.attempt }}</h3>
            {{ textOf(work) }}
          </article>
        </div>
      </template>
      <p v-else-if="works.length > 1" class="quiet small">
        {{ several(texts.length, 'attempt has', 'attempts have') }} a text: there is nothing to
        compare word by word.
      </p>
    </template>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  min-width: 60%;
}
th,
td {
  text-align: start;
  vertical-align: top;
  font-weight: 400;
  padding: 7px 18px 7px 0;
  border-bottom: 1px solid var(--line);
  min-width: 180px;
  max-width: 420px;
  overflow-wrap: anywhere;
}
thead th {
  border-bottom-color: var(--ink);
}
.block {
  display: block;
}
.beside {
  margin-left: 6px;
}
h2 {
  margin: 22px 0 8px;
}
.sheet {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 22px 30px;
  max-width: 76ch;
  line-height: 1.6;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
/* Told by a line under or through, too. */
ins {
  background: var(--marker);
  color: inherit;
  text-decoration: underline 1.5px;
  text-underline-offset: 3px;
}
del {
  color: var(--ink-3);
}
.both {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
@media (max-width: 760px) {
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
