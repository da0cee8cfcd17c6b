<script setup lang="ts">
import { useMessage } from 'naive-ui'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useClass } from '@/api/classes'
import { useScales } from '@/api/scales'
import { useKeys } from '@/design/keys'
import type { OutcomeListOut } from '@/api/schema'
import BringIn from '@/design/BringIn.vue'
import EmptyState from '@/design/EmptyState.vue'
import { sendTable } from '@/design/sendTable'
import QueryState from '@/design/QueryState.vue'
import ScalePicture from '@/design/ScalePicture.vue'
import { several } from '@/design/format'
import MethodPanel from './MethodPanel.vue'
import OutcomePanel from './OutcomePanel.vue'
import OutcomeRow from './OutcomeRow.vue'
import StrandCard from './StrandCard.vue'
import { useOutcomes, useOutcomesChanged } from './useOutcomes'
import { useStrands } from './useStrands'

const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const message = useMessage()
const klass = useClass(() => props.classId)
const { data, groups, retired, error, isPending, refetch } = useOutcomes(() => props.classId)
const { data: scales } = useScales()
const changed = useOutcomesChanged(() => props.classId)
const strands = useStrands(props.classId, data, changed)
const { problem, said } = strands

const bringing = ref(false)
const adding = ref<{ strandId: number | null } | null>(null)
const strandTitle = ref<string | null>(null)
const chosenId = ref<number | null>(null)
const chosen = computed(() => data.value?.outcomes.find((one) => one.id === chosenId.value) ?? null)
const scale = computed(() => scales.value?.find((one) => one.id === klass.value?.scale_id))
watchEffect(() => {
  if (route.query.outcome) chosenId.value = Number(route.query.outcome)
})

function choose(id: number | null) {
  adding.value = null
  chosenId.value = id
  void router.replace({ query: id ? { outcome: id } : {} })
}

function add(strandId: number | null) {
  chosenId.value = null
  adding.value = { strandId }
}

function done(id?: number) {
  adding.value = null
  choose(id ?? null)
}

async function addStrand() {
  if (await strands.addStrand(strandTitle.value ?? '')) strandTitle.value = null
}

const columns = [
  { field: 'code', label: 'Code' },
  { field: 'title', label: 'Title' },
  { field: 'description', label: 'Description' },
  { field: 'strand', label: 'Strand' },
]
async function brought(added: number) {
  bringing.value = false
  message.success(`${several(added, 'outcome')} added`)
  await changed()
}
const newStrands = (read: OutcomeListOut) => read.new_strands

useKeys('Outcomes', [{ keys: ['a'], does: 'Add an outcome', run: () => add(null) }])
</script>

<template>
  <div class="split">
    <div class="page">
      <div class="page-head">
        <h1>Outcomes</h1>
        <span v-if="data" class="quiet">{{
          several(data.outcomes.length - retired.length, 'outcome')
        }}</span>
        <div class="actions">
          <button class="btn" type="button" @click="bringing = !bringing">Bring in a list</button>
          <button class="btn" type="button" @click="strandTitle = ''">Add a strand</button>
          <button class="btn" type="button" @click="add(null)">Add an outcome <kbd>A</kbd></button>
        </div>
      </div>
      <BringIn
        v-if="bringing"
        what="a list of outcomes"
        :columns="columns"
        :example="'Code\tTitle\tDescription\tStrand\nW1\tI can plot and follow a bearing\tOn paper and on the ground\tFinding the way'"
        :preview="(sent) => sendTable.outcomes.preview(classId, sent)"
        :bring-in="(sent) => sendTable.outcomes.bringIn(classId, sent)"
        @done="brought"
        @cancel="bringing = false"
      >
        <template #also="{ read }">
          <span v-if="newStrands(read).length" class="quiet"
            >New strands: {{ newStrands(read).join(', ') }}.</span
          >
        </template>
      </BringIn>
      <form v-if="strandTitle !== null" class="row strand-form" @submit.prevent="addStrand">
        <input
          v-model="strandTitle"
          class="input"
          aria-label="Title of the new strand"
          placeholder="Title of the strand"
          autofocus
        />
        <button class="btn main" type="submit">Add</button>
        <button class="btn bare" type="button" @click="strandTitle = null">Cancel</button>
      </form>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <p class="visually-hidden" role="status">{{ said }}</p>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <EmptyState
        v-if="data && !data.outcomes.length && !data.strands.length && !bringing"
        title="No outcomes yet"
      >
        An outcome says what a student can do: “I can plot and follow a bearing”. Write them here,
        or bring in a list of them.
        <template #steps>
          <button class="btn main" type="button" @click="add(null)">Write the first</button>
          <button class="btn" type="button" @click="bringing = true">Bring in a list</button>
        </template>
      </EmptyState>
      <StrandCard
        v-for="(group, index) in groups"
        :key="group.strand?.id ?? 0"
        :group="group"
        :first="index === 0"
        :last="index >= (data?.strands.length ?? 0) - 1"
        :class-method="klass?.method.name ?? ''"
        :chosen-id="chosenId"
        @rename="strands.renameStrand"
        @move-strand="strands.moveStrand"
        @delete="strands.deleteStrand"
        @add="add"
        @choose="choose"
        @move="(id, by, from) => strands.moveOutcome(group, id, by, from)"
      />
      <details v-if="retired.length" class="retired">
        <summary>{{ several(retired.length, 'retired outcome') }}</summary>
        <ul>
          <OutcomeRow
            v-for="outcome in retired"
            :key="outcome.id"
            :outcome="outcome"
            :class-method="klass?.method.name ?? ''"
            :on="outcome.id === chosenId"
            first
            last
            @choose="choose(outcome.id)"
          />
        </ul>
      </details>
    </div>
    <aside v-if="klass" class="side" aria-label="Settings">
      <OutcomePanel
        v-if="adding || chosen"
        :key="chosen?.id ?? `new ${adding?.strandId}`"
        :klass="klass"
        :outcome="chosen"
        :strands="data?.strands ?? []"
        :strand-id="adding?.strandId"
        :scales="scales ?? []"
        @done="done"
      />
      <div v-show="!adding && !chosen">
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
.strand-form {
  max-width: 520px;
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
