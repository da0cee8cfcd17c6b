<script setup lang="ts">
import { vOneStop } from '@/design/oneStop'
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { useEventListener } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { useKeys } from '@/design/keys'
import { api, ask } from '@/api/client'
import { useClass } from '@/shared/classes'
import { useScales } from '@/shared/scales'
import Confirm from '@/design/telling/Confirm.vue'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import CriterionRow from './CriterionRow.vue'
import RubricHead from './RubricHead.vue'
import RubricSide from './RubricSide.vue'
import ImportCriteria from './ImportCriteria.vue'
import PasteGrid from './PasteGrid.vue'
import RubricForStudents from './RubricForStudents.vue'
import type { DraftCriterion } from './criteria'
import { useCriteria } from './useCriteria'
import { useRubric } from './useRubric'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number; rubricId: number }>()
const router = useRouter()
const { server, draft, state, problem, loadError, load, save, then, steps } = useRubric(
  props.rubricId,
)
const { data: scales } = useScales()
const klass = useClass(() => props.classId)
const criteria = useCriteria(
  draft,
  computed(() => scales.value?.find((one) => one.id === klass.value?.scale_id)),
)
const { said, weighted, sameNames } = criteria
const params = { path: { rubric_id: props.rubricId } }
/** What is open above the criteria, and whether the rubric is shown as students see it. */
const open = ref<'grid' | 'criteria' | null>(null)
const asStudent = ref(false)
const final = computed(() => server.value?.final ?? false)
/** Problems by field as the server named them: what was refused, else what is missing. */
const problems = computed(() => {
  const found = new Map<string, string>()
  for (const one of problem.value?.errors ?? []) found.set(one.field, one.message)
  return found
})
watch(server, (now, before) => {
  if (now && !before) criteria.beginSameNames()
})

function take(taken: DraftCriterion[]) {
  criteria.take(taken)
  open.value = null
}

const share = (how: 'missing' | 'equal') =>
  then((version) =>
    ask(api.POST('/api/rubrics/{rubric_id}/weights', { params, body: { version, how } })),
  )
const finalise = () =>
  then((version) => ask(api.POST('/api/rubrics/{rubric_id}/final', { params, body: { version } })))
const revise = () =>
  then((version) => ask(api.POST('/api/rubrics/{rubric_id}/draft', { params, body: { version } })))

const discarding = ref(false)
function discard() {
  discarding.value = false
  void then((version) =>
    ask(
      api.DELETE('/api/rubrics/{rubric_id}/revisions/draft', {
        params: { ...params, query: { version } },
      }),
    ),
  )
}

async function toEffects() {
  if (await save()) await router.push({ name: 'revisions', params: props })
}

async function copy() {
  const { id } = await ask(api.POST('/api/rubrics/{rubric_id}/copy', { params }))
  await router.push({ name: 'rubric', params: { classId: props.classId, rubricId: id } })
}

const unsaved = computed(() => ['waiting', 'saving', 'refused', 'gone'].includes(state.value))
/** Asked whether to leave what is not saved; takes the answer. */
const leave = shallowRef<((leaving: boolean) => void) | null>(null)
onBeforeRouteLeave(async () => {
  if (!unsaved.value || (await save())) return true
  const leaving = await new Promise<boolean>((answer) => (leave.value = answer))
  leave.value = null
  return leaving
})
useEventListener(window, 'beforeunload', (event) => {
  if (unsaved.value) event.preventDefault()
})
const unlessFinal = (act: () => void) => () => {
  if (final.value) return false
  act()
}
useKeys('Rubric', [
  { keys: ['a'], does: 'Add a criterion', run: unlessFinal(() => criteria.add('levels')) },
  { keys: ['y'], does: 'Add a yes / no criterion', run: unlessFinal(() => criteria.add('yes-no')) },
  { keys: ['Ctrl+z'], does: 'Undo', run: unlessFinal(steps.undo), typing: true },
  {
    keys: ['Ctrl+Shift+z', 'Ctrl+y'],
    does: 'Redo',
    run: unlessFinal(steps.redo),
    typing: true,
  },
])
usePageTitle(() => draft.title)
</script>

<template>
  <QueryState v-if="!server" class="page" :error="loadError" :pending="!loadError" @again="load" />
  <RubricForStudents
    v-else-if="asStudent"
    :draft="draft"
    :outcomes="server.outcomes"
    @close="asStudent = false"
  />
  <div v-else class="split editor">
    <div class="page">
      <RubricHead
        v-model="draft.title"
        :rubric="server"
        :class-id="classId"
        :criteria="draft.criteria.length"
        :state="state"
        :problem="problem"
        @revise="revise"
        @copy="copy"
        @finalise="finalise"
        @discard="discarding = true"
        @effects="toEffects"
      />
      <div v-one-stop:row class="row tools" role="toolbar" aria-label="What can be done">
        <template v-if="!final">
          <NButton quaternary :disabled="!steps.canUndo.value" @click="steps.undo">
            Undo <kbd>Ctrl Z</kbd>
          </NButton>
          <NButton quaternary :disabled="!steps.canRedo.value" @click="steps.redo"> Redo </NButton>
          <NButton quaternary @click="open = 'grid'">Paste a grid</NButton>
          <NButton quaternary @click="open = 'criteria'"> Copy criteria from a rubric </NButton>
        </template>
        <NButton quaternary @click="asStudent = true">See as student</NButton>
      </div>
      <PasteGrid v-if="open === 'grid'" @take="take" @cancel="open = null" />
      <ImportCriteria
        v-if="open === 'criteria'"
        :rubric-id="rubricId"
        @take="take"
        @cancel="open = null"
      />
      <Notice v-if="state === 'stale'" clay role="alert">
        {{ problem?.message }} What you wrote here stays until you choose:
        <NButton class="link" text @click="load">load what is there now</NButton>
      </Notice>
      <Notice v-else-if="problem && !problem.gone" clay role="alert">
        <template v-if="problem.errors.length > 1">
          <span v-for="one in problem.errors" :key="one.field + one.message" class="line">{{
            one.message
          }}</span>
        </template>
        <template v-else>{{ problem.message }}</template>
      </Notice>
      <Notice v-if="!final && server.number > 1" role="status">
        Revision {{ server.number }} is being written; tasks go on with theirs. Before you apply it
        you see what it does to each task, and choose. Where only words change, they are changed in
        place.
      </Notice>
      <p class="visually-hidden" role="status">{{ said }}</p>
      <EmptyState v-if="!draft.criteria.length && !open" title="No criteria yet">
        A criterion is one thing you look for in the work. Give it a title and a descriptor for each
        level, then align it to the outcome it is evidence for.
        <template #steps
          ><NButton type="primary" @click="criteria.add('levels')"> Add a criterion </NButton>
          <NButton @click="open = 'grid'">Paste a grid</NButton></template
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
        @move="criteria.move(index, $event)"
        @remove="criteria.remove(index)"
        @duplicate="criteria.duplicate(index)"
        @next="criteria.next(index)"
        @renamed="criteria.renamed(index, $event)"
      />
      <div v-if="!final && draft.criteria.length" class="row adding">
        <NButton @click="criteria.add('levels')"> Add a criterion <kbd>A</kbd> </NButton>
        <NButton @click="criteria.add('yes-no')"> Yes / no criterion <kbd>Y</kbd> </NButton>
      </div>
    </div>
    <RubricSide
      :rubric="server"
      :draft="draft"
      :weighted="weighted"
      @share="share"
      :same-names="sameNames"
      @remove-weights="criteria.removeWeights"
      @same-names="criteria.setSameNames"
      @points-shown="draft.points_shown = $event"
    />
    <Confirm
      :show="discarding"
      title="Discard the changes?"
      action="Discard them"
      keep="Keep them"
      @confirm="discard"
      @cancel="discarding = false"
    >
      What was written since the last final revision is lost; that one stays as it is.
    </Confirm>
    <Confirm
      :show="leave !== null"
      title="Leave what is not saved?"
      action="Leave it"
      keep="Stay here"
      @confirm="leave?.(true)"
      @cancel="leave?.(false)"
    >
      Something on this page is not saved yet, and is lost when you leave.
    </Confirm>
  </div>
</template>

<style scoped>
.editor {
  grid-template-columns: minmax(0, 1fr) 300px;
}
.tools {
  flex-wrap: wrap;
  gap: 2px 4px;
  margin: -4px 0 4px -13px;
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
