<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useClass } from '@/shared/classes'
import { useScales } from '@/shared/scales'
import { useKeys } from '@/design/keys'
import EmptyState from '@/design/EmptyState.vue'
import QueryState from '@/design/QueryState.vue'
import ScalePicture from '@/design/ScalePicture.vue'
import { several } from '@/design/format'
import ImportOutcomes from '@/features/outcomes/files/ImportOutcomes.vue'
import ManyOutcomesPanel from './ManyOutcomesPanel.vue'
import FrameworkFiles from '@/features/outcomes/files/FrameworkFiles.vue'
import FromElsewhere from './FromElsewhere.vue'
import MethodPanel from './MethodPanel.vue'
import OutcomePanel from '@/features/outcomes/OutcomePanel.vue'
import OutcomeRow from './OutcomeRow.vue'
import StrandCard from './StrandCard.vue'
import { useRefresh } from '@/shared/queries'
import { narrowed, useOutcomes } from '@/features/outcomes/useOutcomes'
import { useStrands } from './useStrands'
import { useUndoImport } from '@/features/outcomes/files/useUndoImport'
import { vOpens } from '@/design/focus'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const importing = useUndoImport(() => props.classId)
const klass = useClass(() => props.classId)
const { data, groups, retired, error, isPending, refetch } = useOutcomes(() => props.classId)
const { data: scales } = useScales()
const changed = useRefresh().outcomes
const strands = useStrands(props.classId, data, groups, changed)
const { problem, said } = strands

/** What is open above the list: a list to bring in, outcomes of other classes, a new strand. */
const open = ref<'list' | 'elsewhere' | 'files' | 'strand' | null>(null)
const adding = ref<{ strandId: number | null } | null>(null)
const strandTitle = ref('')
const wanted = ref('')
const marked = ref<Set<number> | null>(null)
const chosenId = ref<number | null>(null)
const chosen = computed(() => data.value?.outcomes.find((one) => one.id === chosenId.value) ?? null)
const scale = computed(() => scales.value?.find((one) => one.id === klass.value?.scale_id))
const shown = computed(() => narrowed(groups.value, wanted.value))
const count = computed(() => (data.value?.outcomes.length ?? 0) - retired.value.length)
watchEffect(() => {
  if (route.query.outcome) chosenId.value = Number(route.query.outcome)
})

function choose(id: number | null) {
  adding.value = null
  marked.value = null
  chosenId.value = id
  void router.replace({ query: id ? { outcome: id } : {} })
}

function add(strandId: number | null) {
  choose(null)
  adding.value = { strandId }
}

function chooseSeveral() {
  const on = marked.value === null
  choose(null)
  marked.value = on ? new Set() : null
}

function mark(id: number, on: boolean) {
  const now = new Set(marked.value)
  if (on) now.add(id)
  else now.delete(id)
  marked.value = now
}

const markAll = () =>
  (marked.value = new Set(shown.value.flatMap((group) => group.outcomes.map((one) => one.id))))

async function addStrand() {
  if (!(await strands.addStrand(strandTitle.value))) return
  strandTitle.value = ''
  open.value = null
}

async function imported(entry: number, words: string) {
  open.value = null
  await importing.done(entry, words)
}

useKeys('Outcomes', [
  { keys: ['a'], does: 'Add an outcome', run: () => add(null) },
  { keys: ['x'], does: 'Choose several outcomes', run: chooseSeveral },
  {
    keys: ['Escape'],
    does: 'Close what is open beside the list',
    run: () => (chosen.value || adding.value || marked.value ? choose(null) : false),
  },
])
usePageTitle('Outcomes')
</script>

<template>
  <div class="split">
    <div class="page">
      <div class="page-head">
        <h1>Outcomes</h1>
        <span v-if="data" class="quiet">{{ several(count, 'outcome') }}</span>
        <RouterLink class="small" :to="{ name: 'coverage', params: { classId } }"
          >what is assessed when</RouterLink
        >
        <div class="actions">
          <button class="btn" type="button" @click="open = 'list'">Import a list</button>
          <button class="btn" type="button" @click="open = 'elsewhere'">From another class</button>
          <button class="btn" type="button" @click="open = 'files'">Files</button>
          <button class="btn" type="button" @click="open = 'strand'">Add a strand</button>
          <button class="btn" type="button" @click="add(null)">Add an outcome <kbd>A</kbd></button>
        </div>
      </div>
      <div v-if="count > 1" class="row tools">
        <input
          v-model="wanted"
          class="input search"
          type="search"
          aria-label="Search the outcomes"
          placeholder="Search code, title, description"
        />
        <button
          class="btn bare"
          type="button"
          :aria-pressed="marked !== null"
          @click="chooseSeveral"
        >
          Choose several <kbd>X</kbd>
        </button>
      </div>
      <ImportOutcomes
        v-if="open === 'list'"
        :class-id="classId"
        @done="imported"
        @cancel="open = null"
      />
      <FromElsewhere v-if="open === 'elsewhere'" :class-id="classId" @done="open = null" />
      <FrameworkFiles v-if="open === 'files'" :class-id="classId" @done="open = null" />
      <form v-if="open === 'strand'" v-opens class="row strand-form" @submit.prevent="addStrand">
        <input
          v-model="strandTitle"
          class="input"
          aria-label="Title of the new strand"
          placeholder="Title of the strand"
        />
        <button class="btn main" type="submit">Add</button>
        <button class="btn bare" type="button" @click="open = null">Cancel</button>
      </form>
      <p v-if="importing.said.value" class="notice" role="status">
        {{ importing.said.value }}
        <button
          v-if="importing.imported.value"
          class="link"
          type="button"
          @click="strands.attempt(importing.undo)"
        >
          Undo the import
        </button>
        <button v-else class="link" type="button" @click="importing.forget">Close</button>
      </p>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <p class="visually-hidden" role="status">{{ said }}</p>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState
        v-if="data && !data.outcomes.length && !data.strands.length && !open"
        title="No outcomes yet"
      >
        An outcome says what a student can do: “I can plot and follow a bearing”. Write them here,
        or import a list of them.
        <template #steps>
          <button class="btn main" type="button" @click="add(null)">Write the first</button>
          <button class="btn" type="button" @click="open = 'list'">Import a list</button>
          <button class="btn" type="button" @click="open = 'elsewhere'">From another class</button>
        </template>
      </EmptyState>
      <p v-if="wanted && !shown.length" class="quiet">No outcome has “{{ wanted }}” in it.</p>
      <StrandCard
        v-for="group in shown"
        :key="group.strand?.id ?? 0"
        :group="group"
        :strands="data?.strands ?? []"
        :chosen-id="chosenId"
        :several="marked !== null"
        :marked="marked ?? new Set()"
        :narrowed="wanted !== ''"
        @change="strands.changeStrand"
        @move-strand="strands.moveStrand"
        @delete="strands.deleteStrand"
        @add="add"
        @choose="choose"
        @mark="mark"
        @move="(id, by) => strands.moveOutcome(id, by, `[data-handle='${id}']`)"
        @place="strands.place"
      />
      <details v-if="retired.length" class="retired">
        <summary>{{ several(retired.length, 'retired outcome') }}</summary>
        <ul>
          <OutcomeRow
            v-for="outcome in retired"
            :key="outcome.id"
            :outcome="outcome"
            :on="outcome.id === chosenId"
            @choose="choose(outcome.id)"
          />
        </ul>
      </details>
    </div>
    <aside v-if="klass" class="side" aria-label="Settings">
      <ManyOutcomesPanel
        v-if="marked"
        :klass="klass"
        :ids="[...marked]"
        :strands="data?.strands ?? []"
        :scales="scales ?? []"
        @done="choose(null)"
        @all="markAll"
      />
      <OutcomePanel
        v-else-if="adding || chosen"
        :key="chosen?.id ?? `new ${adding?.strandId}`"
        :klass="klass"
        :outcome="chosen"
        :strands="data?.strands ?? []"
        :strand-id="adding?.strandId"
        :scales="scales ?? []"
        @done="(id) => choose(id ?? null)"
      />
      <div v-show="!marked && !adding && !chosen">
        <MethodPanel v-if="scales" :klass="klass" :scales="scales" />
        <section v-if="scale" class="scale">
          <h2>Proficiency scale</h2>
          <p class="small">
            <b>{{ scale.name }}</b>, which new outcomes take ·
            <RouterLink :to="{ name: 'scales', params: { classId }, query: { scale: scale.id } }"
              >change it</RouterLink
            >
            ·
            <RouterLink :to="{ name: 'scales', params: { classId } }">all scales</RouterLink>
          </p>
          <ScalePicture :levels="scale.levels" :mastery-level="scale.mastery_level" />
        </section>
      </div>
    </aside>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.tools {
  margin-bottom: 10px;
}
.search {
  max-width: 340px;
}
.strand-form {
  max-width: 520px;
  margin-bottom: 12px;
}
.notice {
  margin-bottom: 12px;
}
.scale {
  display: grid;
  gap: 8px;
  margin-top: 22px;
}
.retired summary {
  cursor: pointer;
  padding: 6px 4px;
}
</style>
