<script setup lang="ts">
import type { OwnRubricLineOut } from '@/api/schema'
import Confirm from '@/design/telling/Confirm.vue'
import { several } from '@/design/format'
import TextField from '@/design/controls/TextField.vue'
import { warn } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { api, ask } from '@/api/client'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import OwnRubricLine from './OwnRubricLine.vue'
import SharedRubricLine from './SharedRubricLine.vue'
import { useLibrary } from './useLibrary'
import { vOpens } from '@/design/focus'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const router = useRouter()
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

/** What is asked before it goes for good. */
const deleting = ref<OwnRubricLineOut | null>(null)
function remove() {
  const one = deleting.value
  deleting.value = null
  if (one) void it.remove(one)
}

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
      warn(`This class teaches nothing for ${codes}: left without an alignment`)
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
        <NButton :type="title === null ? 'primary' : 'default'" @click="title = ''">
          New rubric <kbd>A</kbd>
        </NButton>
      </div>
    </div>
    <form v-if="title !== null" v-opens class="row new" @submit.prevent="make">
      <TextField
        v-model="title"
        class="grow"
        label="Title of the new rubric"
        placeholder="Title, such as Route card"
        :error="problem?.at('title')"
        bare
      />
      <NButton type="primary" attr-type="submit">Begin</NButton>
      <NButton quaternary @click="title = null">Cancel</NButton>
    </form>
    <Notice v-if="problem && !problem.at('title')" clay role="alert">{{ problem.message }}</Notice>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-if="data && !data.length && title === null" title="No rubric yet">
      A rubric has criteria down the side and levels across. Each criterion is aligned to the
      outcome it is evidence for.
      <template #steps
        ><NButton type="primary" @click="title = ''"> Begin a rubric </NButton></template
      >
    </EmptyState>
    <template v-if="data?.length">
      <div class="row narrow">
        <TextField
          v-model="wanted"
          class="search"
          type="search"
          label="Search the rubrics"
          placeholder="Search title and tags"
          bare
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
        <NCheckbox v-if="archived || withArchived" class="push small" v-model:checked="withArchived"
          >Archived ({{ archived }})</NCheckbox
        >
      </div>
      <p v-if="!shown.length" class="quiet">
        {{ withArchived ? 'Nothing is archived.' : 'No rubric fits this search.' }}
      </p>
      <div v-else class="table-scroll">
        <NTable class="list" size="small">
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
              @remove="deleting = one"
              @archive="it.archive(one, $event)"
              @share="it.share(one, $event)"
              @tags="it.setTags(one, $event)"
            />
          </tbody>
        </NTable>
      </div>
    </template>
    <Confirm
      :show="deleting !== null"
      :title="`Delete ${deleting?.title}?`"
      action="Delete the rubric"
      keep="Keep it"
      @confirm="remove"
      @cancel="deleting = null"
    >
      Its {{ several(deleting?.criteria ?? 0, 'criterion', 'criteria') }} and all revisions go for
      good; no task uses it. To keep it out of the way, archive it instead.
    </Confirm>
    <section v-if="shared?.length" class="shared">
      <h2>Shared by colleagues</h2>
      <div class="table-scroll">
        <NTable class="list" size="small">
          <tbody>
            <SharedRubricLine
              v-for="one in shared"
              :key="one.id"
              :rubric="one"
              @copy="copy(one.id)"
            />
          </tbody>
        </NTable>
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
