<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { useSession } from '@/api/session'
import { api, ask } from '@/api/client'
import { useScales } from '@/api/scales'
import EmptyState from '@/design/EmptyState.vue'
import QueryState from '@/design/QueryState.vue'
import { clock, several } from '@/design/format'
import CriterionRow from './CriterionRow.vue'
import RubricSide from './RubricSide.vue'
import { newKey, useRubric, type DraftCriterion } from './useRubric'

const props = defineProps<{ classId: number; rubricId: number }>()
const router = useRouter()
const { timeZone } = useSession()
const { server, draft, state, problem, loadError, load, save, then } = useRubric(props.rubricId)
const { data: scales } = useScales()
const params = { path: { rubric_id: props.rubricId } }
const said = ref('')
/** The criterion taken away last, until something else is, so that it can be put back. */
const removed = ref<{ criterion: DraftCriterion; index: number } | null>(null)
const final = computed(() => server.value?.final ?? false)
const weighted = computed(() => draft.criteria.some((one) => one.weight !== null && !one.bonus))
/** Problems by field as the server named them: what was refused, else what is missing. */
const problems = computed(() => {
  const found = new Map<string, string>()
  for (const one of problem.value?.errors ?? []) found.set(one.field, one.message)
  return found
})

/** Levels that a new criterion starts with: those of the last one with levels, else the scale's. */
function startingLevels(): DraftCriterion['levels'] {
  const last = draft.criteria.findLast((one) => one.kind === 'levels' && one.levels.length > 2)
  const scale = scales.value?.[0]
  const names =
    last?.levels.map((level) => level.name) ?? scale?.levels.map((level) => level.name) ?? []
  const points = last?.levels.map((level) => level.points)
  return names.map((name, index) => ({
    key: newKey(),
    name,
    points: points?.[index] ?? String(index + 1),
    descriptor: '',
  }))
}

function add(kind: 'levels' | 'yes-no') {
  const levels =
    kind === 'yes-no'
      ? [
          { key: newKey(), name: 'No', points: '0', descriptor: '' },
          { key: newKey(), name: 'Yes', points: '1', descriptor: '' },
        ]
      : startingLevels()
  draft.criteria.push({
    key: newKey(),
    title: '',
    kind,
    bonus: false,
    half_way: false,
    weight: weighted.value ? '' : null,
    levels,
    alignments: [],
  })
  void nextTick(() => {
    const titles = document.querySelectorAll<HTMLElement>('.criterion-title')
    titles[titles.length - 1]?.focus()
  })
}

function move(index: number, by: number) {
  const to = index + by
  if (to < 0 || to >= draft.criteria.length) return
  const [moved] = draft.criteria.splice(index, 1)
  draft.criteria.splice(to, 0, moved!)
  said.value = `${moved!.title || 'The criterion'} moved to place ${to + 1} of ${draft.criteria.length}`
}

function remove(index: number) {
  const [criterion] = draft.criteria.splice(index, 1)
  if (criterion) removed.value = { criterion, index }
}

function putBack() {
  if (removed.value) draft.criteria.splice(removed.value.index, 0, removed.value.criterion)
  removed.value = null
}

const share = (how: 'missing' | 'equal') =>
  then((version) =>
    ask(api.POST('/api/rubrics/{rubric_id}/weights', { params, body: { version, how } })),
  )
const finalise = () =>
  then((version) => ask(api.POST('/api/rubrics/{rubric_id}/final', { params, body: { version } })))
const reopen = () =>
  then((version) => ask(api.POST('/api/rubrics/{rubric_id}/draft', { params, body: { version } })))

function removeWeights() {
  for (const criterion of draft.criteria) criterion.weight = null
}

async function copy() {
  const { id } = await ask(api.POST('/api/rubrics/{rubric_id}/copy', { params }))
  await router.push({ name: 'rubric', params: { classId: props.classId, rubricId: id } })
}

const unsaved = computed(() => ['waiting', 'saving', 'refused', 'gone'].includes(state.value))
onBeforeRouteLeave(async () => {
  if (!unsaved.value || (await save())) return true
  return confirm('Something on this page is not saved yet. Leave it all the same?')
})
useEventListener(window, 'beforeunload', (event) => {
  if (unsaved.value) event.preventDefault()
})
useKeys('Rubric', [
  { keys: ['a'], does: 'Add a criterion', run: () => (final.value ? false : add('levels')) },
  {
    keys: ['y'],
    does: 'Add a yes / no criterion',
    run: () => (final.value ? false : add('yes-no')),
  },
])
</script>

<template>
  <QueryState v-if="!server" class="page" :error="loadError" :pending="!loadError" @again="load" />
  <div v-else class="split editor">
    <div class="page">
      <div class="page-head">
        <h1 v-if="final">{{ server.title }}</h1>
        <h1 v-else class="title-heading">
          <input
            v-model="draft.title"
            class="input plain title"
            aria-label="Title of the rubric"
            :aria-invalid="problems.get('title') ? 'true' : undefined"
          />
        </h1>
        <span class="tag">{{ final ? 'final' : 'draft' }}</span>
        <span class="small quiet">
          {{ several(draft.criteria.length, 'criterion', 'criteria') }} · {{ server.points }} points
          ·
          {{
            server.tasks.length
              ? `used by ${several(server.tasks.length, 'task')}`
              : 'used by no task yet'
          }}
        </span>
        <span
          class="small save"
          :class="{ clay: ['refused', 'gone', 'stale'].includes(state) }"
          role="status"
        >
          <template v-if="final" />
          <template v-else-if="state === 'saved'"
            >Saved {{ clock(server.changed_at, timeZone) }}</template
          >
          <template v-else-if="state === 'gone'"
            >Not saved: the server does not answer. Trying again …</template
          >
          <template v-else-if="state === 'refused'">Not saved: see below</template>
          <template v-else-if="state === 'stale'">Not saved: changed in another tab</template>
          <template v-else>Saving …</template>
        </span>
        <div class="actions">
          <button v-if="final && !server.tasks.length" class="btn" type="button" @click="reopen">
            Make it a draft again
          </button>
          <button v-if="final" class="btn" type="button" @click="copy">Copy to change it</button>
          <button v-if="!final" class="btn main" type="button" @click="finalise">Finalise</button>
        </div>
      </div>
      <div v-if="state === 'stale'" class="notice clay" role="alert">
        {{ problem?.message }} What you wrote here stays until you choose:
        <button class="link" type="button" @click="load">load what is there now</button>
      </div>
      <p v-else-if="problem && !problem.gone" class="notice clay" role="alert">
        <template v-if="problem.errors.length > 1">
          <span v-for="one in problem.errors" :key="one.field + one.message" class="line">{{
            one.message
          }}</span>
        </template>
        <template v-else>{{ problem.message }}</template>
      </p>
      <p class="visually-hidden" role="status">{{ said }}</p>
      <EmptyState v-if="!draft.criteria.length" title="No criteria yet">
        A criterion is one thing you look for in the work. Give it a title and a descriptor for each
        level, then align it to the outcome it is evidence for.
        <template #steps
          ><button class="btn main" type="button" @click="add('levels')">
            Add a criterion
          </button></template
        >
      </EmptyState>
      <CriterionRow
        v-for="(criterion, index) in draft.criteria"
        :key="criterion.key"
        v-model="draft.criteria[index]!"
        :index="index"
        :count="draft.criteria.length"
        :final="final"
        :weighted="weighted"
        :outcomes="server.outcomes"
        :scales="scales ?? []"
        :basis="server.criteria.find((one) => one.key === criterion.key)?.alignments ?? []"
        :problems="problems"
        @move="move(index, $event)"
        @remove="remove(index)"
      />
      <p v-if="removed && !final" class="notice" role="status">
        “{{ removed.criterion.title || 'A criterion' }}” is taken away.
        <button class="link" type="button" @click="putBack">Put it back</button>
      </p>
      <div v-if="!final && draft.criteria.length" class="row adding">
        <button class="btn" type="button" @click="add('levels')">
          Add a criterion <kbd>A</kbd>
        </button>
        <button class="btn" type="button" @click="add('yes-no')">
          Yes / no criterion <kbd>Y</kbd>
        </button>
      </div>
    </div>
    <RubricSide
      :rubric="server"
      :draft="draft"
      :weighted="weighted"
      @share="share"
      @remove-weights="removeWeights"
    />
  </div>
</template>

<style scoped>
.editor {
  grid-template-columns: minmax(0, 1fr) 300px;
}
.title-heading {
  flex: 0 1 340px;
}
.title {
  font: inherit;
  padding-left: 4px;
  margin-left: -5px;
}
.adding {
  margin-top: 12px;
  flex-wrap: wrap;
}
.line {
  display: block;
}
@media (max-width: 900px) {
  .editor {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
