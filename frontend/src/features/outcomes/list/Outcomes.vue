<script setup lang="ts">
import SidePanel from '@/design/controls/SidePanel.vue'
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useClass } from '@/shared/classes'
import { useScales } from '@/shared/scales'
import { useKeys } from '@/design/keys'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import ScalePicture from '@/design/ScalePicture.vue'
import { several } from '@/design/format'
import ImportOutcomes from '@/features/outcomes/files/ImportOutcomes.vue'
import ManyOutcomesPanel from './ManyOutcomesPanel.vue'
import FrameworkFiles from '@/features/outcomes/files/FrameworkFiles.vue'
import FromElsewhere from './FromElsewhere.vue'
import CombiningPanel from './CombiningPanel.vue'
import MethodPanel from './MethodPanel.vue'
import Menu from '@/design/controls/Menu.vue'
import TextField from '@/design/controls/TextField.vue'
import type { StrandOut } from '@/api/schema'
import StrandPanel from './StrandPanel.vue'
import OutcomePanel from '@/features/outcomes/OutcomePanel.vue'
import OutcomeRow from './OutcomeRow.vue'
import StrandCard from './StrandCard.vue'
import { useRefresh } from '@/shared/queries'
import { narrowed, useOutcomes } from '@/features/outcomes/useOutcomes'
import { useClassLadders } from './useClassLadders'
import { useStrands } from './useStrands'
import { useUndoImport } from '@/features/outcomes/files/useUndoImport'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const importing = useUndoImport(() => props.classId)
const klass = useClass(() => props.classId)
const arranging = ref(false)
const { data, groups, retired, error, isPending, refetch } = useOutcomes(
  () => props.classId,
  arranging,
)
const standings = useClassLadders(
  () => props.classId,
  () => Boolean(data.value?.outcomes.length),
)
const { data: scales } = useScales()
const changed = useRefresh().outcomes
const strands = useStrands(props.classId, data, groups, changed)
const { problem, said } = strands

/** What is open above the list: a list to import, outcomes of other classes, files. */
const open = ref<'list' | 'elsewhere' | 'files' | null>(null)
/** How many were just added: each leaves an empty form for the next. */
const added = ref(0)
const adding = ref<{ strandId: number | null } | null>(null)
/** The strand that is open at the side, or a new one. */
const strandOpen = ref<{ strand: StrandOut | null } | null>(null)
/** Where there is no room beside the list, what to change of several is asked when they are chosen. */
const changing = ref(false)
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
  strandOpen.value = null
  changing.value = false
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

function openStrand(id: number | null) {
  choose(null)
  const strand = data.value?.strands.find((one) => one.id === id) ?? null
  strandOpen.value = { strand }
}

function arrange() {
  choose(null)
  wanted.value = ''
  arranging.value = true
}

const more = computed(() => [
  { text: 'Add a strand', act: () => openStrand(null) },
  { text: 'Import a list', act: () => (open.value = 'list') },
  { text: 'From another class', act: () => (open.value = 'elsewhere') },
  { text: 'Files', act: () => (open.value = 'files') },
  ...(count.value > 1
    ? [
        { text: 'Choose several', act: chooseSeveral },
        { text: 'Arrange', act: arrange },
      ]
    : []),
  {
    text: 'What is assessed when',
    act: () => router.push({ name: 'coverage', params: { classId: props.classId } }),
  },
])

async function imported(entry: number, words: string, stays: boolean) {
  // Lines that were left out are still to be corrected.
  if (!stays) open.value = null
  await importing.done(entry, words)
}

useKeys('Outcomes', [
  { keys: ['a'], does: 'Add an outcome', run: () => add(null) },
  { keys: ['x'], does: 'Choose several outcomes', run: chooseSeveral },
  {
    keys: ['Escape'],
    does: 'Close what is open beside the list',
    typing: true,
    run: () =>
      chosen.value || adding.value || marked.value || strandOpen.value ? choose(null) : false,
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
        <div class="actions">
          <TextField
            v-if="count > 1"
            v-model="wanted"
            class="search"
            label="Search the outcomes"
            placeholder="Search code, title, description"
            type="search"
            bare
          />
          <template v-if="!klass?.set_aside">
            <NButton type="primary" @click="add(null)">Add an outcome <kbd>A</kbd></NButton>
            <Menu label="More to do with outcomes" text="More" :items="more" />
          </template>
        </div>
      </div>
      <p v-if="arranging" class="row arranging" role="status">
        Move outcomes by the arrows, by their handle, or by the arrow keys on it.
        <NButton size="small" @click="arranging = false">Done</NButton>
      </p>
      <ImportOutcomes
        v-if="open === 'list'"
        :class-id="classId"
        @done="imported"
        @cancel="open = null"
      />
      <FromElsewhere v-if="open === 'elsewhere'" :class-id="classId" @done="open = null" />
      <FrameworkFiles v-if="open === 'files'" :class-id="classId" @done="open = null" />
      <Notice v-if="importing.said.value" role="status">
        {{ importing.said.value }}
        <NButton
          v-if="importing.imported.value"
          class="link"
          text
          @click="strands.attempt(importing.undo)"
        >
          Undo the import
        </NButton>
        <NButton v-else class="link" text @click="importing.forget">Close</NButton>
      </Notice>
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
      <p class="visually-hidden" role="status">{{ said }}</p>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState v-if="data && !data.outcomes.length && !open" title="No outcomes yet">
        An outcome says what a student can do: “I can plot and follow a bearing”. Write them here,
        or import a list of them.
        <template #steps>
          <NButton type="primary" @click="add(null)">Write the first</NButton>
          <NButton @click="open = 'list'">Import a list</NButton>
          <NButton @click="open = 'elsewhere'">From another class</NButton>
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
        :arranging="arranging"
        :standings="standings"
        @change="openStrand"
        @move-strand="strands.moveStrand"
        @delete="strands.deleteStrand"
        @add="add"
        @choose="choose"
        @mark="mark"
        @move="(id, by) => strands.moveOutcome(id, by, `[data-handle='${id}']`)"
        @place="strands.place"
      />
      <p v-if="marked" class="row chosen-bar">
        <b>{{ several(marked.size, 'outcome') }} chosen</b>
        <NButton :disabled="!marked.size" @click="changing = true">Change them …</NButton>
        <NButton quaternary @click="choose(null)">Close</NButton>
      </p>
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
    <SidePanel
      v-if="klass"
      label="Settings"
      :open="Boolean((marked && changing) || adding || chosen || strandOpen)"
      @close="choose(null)"
    >
      <ManyOutcomesPanel
        v-if="marked"
        :klass="klass"
        :ids="[...marked]"
        :outcomes="data?.outcomes ?? []"
        :strands="data?.strands ?? []"
        :scales="scales ?? []"
        @done="choose(null)"
        @all="markAll"
      />
      <StrandPanel
        v-else-if="strandOpen"
        :key="strandOpen.strand?.id ?? 0"
        :strand="strandOpen.strand"
        :strands="data?.strands ?? []"
        @done="choose(null)"
      />
      <OutcomePanel
        v-else-if="adding || chosen"
        :key="chosen?.id ?? `new ${adding?.strandId} ${added}`"
        :klass="klass"
        :outcome="chosen"
        :strands="data?.strands ?? []"
        :strand-id="adding?.strandId"
        :scales="scales ?? []"
        @done="(id) => (id ? (added += 1) : choose(null))"
      />
      <div v-show="!marked && !adding && !chosen && !strandOpen">
        <MethodPanel v-if="scales" :klass="klass" :scales="scales" />
        <CombiningPanel v-if="scales" :klass="klass" :scales="scales" />
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
    </SidePanel>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.search {
  width: 260px;
}
.chosen-bar {
  position: sticky;
  bottom: 0;
  padding: 10px 0;
  background: var(--paper);
  border-top: 1px solid var(--edge);
}
@media (min-width: 901px) {
  .chosen-bar {
    display: none;
  }
}
.arranging {
  margin-bottom: 10px;
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
