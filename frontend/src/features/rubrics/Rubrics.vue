<script setup lang="ts">
import { useQuery, useQueryCache } from '@pinia/colada'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { useSession } from '@/api/session'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { RubricLineOut } from '@/api/schema'
import EmptyState from '@/design/EmptyState.vue'
import QueryState from '@/design/QueryState.vue'
import { day, several } from '@/design/format'

const props = defineProps<{ classId: number }>()
const router = useRouter()
const cache = useQueryCache()
const { timeZone } = useSession()
const { data, error, isPending, refetch } = useQuery({
  key: ['rubrics'],
  query: () => ask(api.GET('/api/rubrics')),
})
const title = ref<string | null>(null)
const problem = ref<Problem | null>(null)

const open = (rubricId: number) =>
  router.push({ name: 'rubric', params: { classId: props.classId, rubricId } })

async function attempt(work: () => Promise<unknown>) {
  problem.value = null
  try {
    await work()
    await cache.invalidateQueries({ key: ['rubrics'] }, 'all')
  } catch (caught) {
    problem.value = asProblem(caught)
  }
}

const make = () =>
  attempt(async () => {
    const { id } = await ask(api.POST('/api/rubrics', { body: { title: title.value ?? '' } }))
    await open(id)
  })

const copy = (one: RubricLineOut) =>
  attempt(async () => {
    const { id } = await ask(
      api.POST('/api/rubrics/{rubric_id}/copy', { params: { path: { rubric_id: one.id } } }),
    )
    await open(id)
  })

const remove = (one: RubricLineOut) =>
  attempt(() =>
    ask(api.DELETE('/api/rubrics/{rubric_id}', { params: { path: { rubric_id: one.id } } })),
  )

useKeys('Rubrics', [{ keys: ['a'], does: 'New rubric', run: () => void (title.value = '') }])
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>Rubrics</h1>
      <span class="quiet">One library for all your classes; several tasks can share a rubric.</span>
      <div class="actions">
        <button class="btn" :class="{ main: title === null }" type="button" @click="title = ''">
          New rubric <kbd>A</kbd>
        </button>
      </div>
    </div>
    <form v-if="title !== null" class="row new" @submit.prevent="make">
      <input
        v-model="title"
        class="input"
        aria-label="Title of the new rubric"
        placeholder="Title, such as Route card"
        autofocus
        :aria-invalid="problem?.at('title') ? 'true' : undefined"
      />
      <button class="btn main" type="submit">Begin</button>
      <button class="btn bare" type="button" @click="title = null">Cancel</button>
    </form>
    <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-if="data && !data.length && title === null" title="No rubric yet">
      A rubric has criteria down the side and levels across. Each criterion is aligned to the
      outcome it is evidence for.
      <template #steps
        ><button class="btn main" type="button" @click="title = ''">
          Begin a rubric
        </button></template
      >
    </EmptyState>
    <div v-if="data?.length" class="table-scroll">
      <table class="list">
        <thead>
          <tr>
            <th>Rubric</th>
            <th>State</th>
            <th>Criteria</th>
            <th>Used by</th>
            <th>Changed</th>
            <th><span class="visually-hidden">Deeds</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in data" :key="one.id">
            <td>
              <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: one.id } }"
                ><b>{{ one.title }}</b></RouterLink
              >
            </td>
            <td>
              <span class="tag">{{ one.final ? 'final' : 'draft' }}</span>
            </td>
            <td>{{ one.criteria }}</td>
            <td>{{ one.tasks ? several(one.tasks, 'task') : 'no task yet' }}</td>
            <td class="quiet">{{ day(one.changed_at, timeZone) }}</td>
            <td class="num">
              <button class="link" type="button" @click="copy(one)">
                Copy<span class="visually-hidden"> {{ one.title }}</span>
              </button>
              <template v-if="!one.tasks">
                ·
                <button class="link" type="button" @click="remove(one)">
                  Delete<span class="visually-hidden"> {{ one.title }}</span>
                </button></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.new {
  max-width: 560px;
  margin-bottom: 12px;
}
.notice {
  margin-bottom: 12px;
}
</style>
