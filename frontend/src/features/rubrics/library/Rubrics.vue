<script setup lang="ts">
import { useMessage } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { api, ask } from '@/api/client'
import EmptyState from '@/design/EmptyState.vue'
import QueryState from '@/design/QueryState.vue'
import OwnRubricLine from './OwnRubricLine.vue'
import SharedRubricLine from './SharedRubricLine.vue'
import { useLibrary } from './useLibrary'
import { vOpens } from '@/design/focus'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const router = useRouter()
const message = useMessage()
const it = useLibrary()
const {
  data,
  error,
  isPending,
  refetch,
  shared,
  shown,
  wanted,
  tag,
  tags,
  withArchived,
  archived,
} = it
const { problem } = it
const title = ref<string | null>(null)

const open = (rubricId: number) =>
  router.push({ name: 'rubric', params: { classId: props.classId, rubricId } })

const make = () =>
  it.send(async () => {
    const { id } = await ask(api.POST('/api/rubrics', { body: { title: title.value ?? '' } }))
    await open(id)
  })

/** Copy one's own or a shared rubric, aligned to what this class teaches. */
const copy = (rubricId: number) =>
  it.send(async () => {
    const { id, fit } = await ask(
      api.POST('/api/classes/{class_id}/rubrics/{rubric_id}/copy', {
        params: { path: { class_id: props.classId, rubric_id: rubricId } },
      }),
    )
    if (fit.unmatched.length) {
      const codes = fit.unmatched.join(', ')
      message.warning(`This class teaches nothing for ${codes}: left without an alignment`, {
        duration: 10_000,
        closable: true,
      })
    }
    await open(id)
  })

useKeys('Rubrics', [{ keys: ['a'], does: 'New rubric', run: () => void (title.value = '') }])
usePageTitle('Rubrics')
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
    <form v-if="title !== null" v-opens class="row new" @submit.prevent="make">
      <input
        v-model="title"
        class="input"
        aria-label="Title of the new rubric"
        placeholder="Title, such as Route card"
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
    <template v-if="data?.length">
      <div class="row narrow">
        <input
          v-model="wanted"
          class="input search"
          type="search"
          aria-label="Search the rubrics"
          placeholder="Search title and tags"
        />
        <button
          v-for="one in tags"
          :key="one"
          class="tag pick"
          type="button"
          :aria-pressed="tag === one"
          @click="tag = tag === one ? null : one"
        >
          {{ one }}
        </button>
        <label v-if="archived || withArchived" class="row push small"
          ><input v-model="withArchived" type="checkbox" /> Archived ({{ archived }})</label
        >
      </div>
      <p v-if="!shown.length" class="quiet">
        {{ withArchived ? 'Nothing is archived.' : 'No rubric fits this search.' }}
      </p>
      <div v-else class="table-scroll">
        <table class="list">
          <thead>
            <tr>
              <th>Rubric</th>
              <th>Tags</th>
              <th>State</th>
              <th>Criteria</th>
              <th>Used by</th>
              <th>Changed</th>
              <th><span class="visually-hidden">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <OwnRubricLine
              v-for="one in shown"
              :key="one.id"
              :rubric="one"
              :class-id="classId"
              @copy="copy(one.id)"
              @remove="it.remove(one)"
              @archive="it.archive(one, $event)"
              @share="it.share(one, $event)"
              @tags="it.setTags(one, $event)"
            />
          </tbody>
        </table>
      </div>
    </template>
    <section v-if="shared?.length" class="shared">
      <h2>Shared by colleagues</h2>
      <div class="table-scroll">
        <table class="list">
          <tbody>
            <SharedRubricLine
              v-for="one in shared"
              :key="one.id"
              :rubric="one"
              @copy="copy(one.id)"
            />
          </tbody>
        </table>
      </div>
    </section>
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
.narrow {
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 10px;
}
.search {
  max-width: 300px;
}
.pick {
  border: 1px solid transparent;
  cursor: pointer;
  min-height: 26px;
}
.pick[aria-pressed='true'] {
  border-color: var(--ink);
  color: var(--ink);
  font-weight: 600;
}
.shared {
  margin-top: 26px;
}
.shared h2 {
  margin-bottom: 8px;
}
</style>
