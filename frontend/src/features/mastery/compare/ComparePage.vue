<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ComparedCellOut, MethodKind } from '@/api/schema'
import LinkButton from '@/design/controls/LinkButton.vue'
import SelectField from '@/design/controls/SelectField.vue'
import SidePanel from '@/design/controls/SidePanel.vue'
import SliderField from '@/design/controls/SliderField.vue'
import Tag from '@/design/controls/Tag.vue'
import { several } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import AgreesBest from './AgreesBest.vue'
import ApplyMethod from './ApplyMethod.vue'
import CompareClass from './CompareClass.vue'
import CompareOutcome from './CompareOutcome.vue'
import StudentUnder from './StudentUnder.vue'
import { settingOf, useComparison } from './useComparison'
import WhatWouldChange from './WhatWouldChange.vue'

/** Every method and setting for an outcome or the class, before one is chosen. */
const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const number = (name: string) => Number(route.query[name]) || null
const outcomeId = computed(() => number('outcome'))
const student = computed(() => number('student'))
const { data, students, scales, cellOf, error, isPending, refetch } = useComparison(
  () => props.classId,
  outcomeId,
)
const KINDS: MethodKind[] = [
  'latest',
  'highest',
  'decaying-average',
  'mean',
  'recent-mean',
  'most-frequent',
]
const newest = ref(60)
const last = ref(3)
const kind = ref<MethodKind>('decaying-average')
const outcome = computed(() =>
  outcomeId.value === null ? null : (data.value?.outcomes[0] ?? null),
)
const scale = computed(() => outcome.value && scales.value.get(outcome.value.scale_id))
/** What holds now: of the outcome, or of the class. */
const present = computed(() => {
  const found = data.value
  if (!found) return null
  const { kind, newest, last } = found.method
  return settingOf(found, kind, newest, last)
})
// The sliders begin at what holds now.
watch(
  () => data.value?.method.name,
  () => {
    const method = data.value?.method
    if (!method) return
    newest.value = method.newest
    last.value = method.last
    kind.value = method.kind
  },
  { immediate: true },
)
const columns = computed(() =>
  KINDS.map((one) => settingOf(data.value!, one, newest.value, last.value)),
)
const chosen = computed({
  get: () => settingOf(data.value!, kind.value, newest.value, last.value),
  set: look,
})
function look(setting: number) {
  const method = data.value!.settings[setting]!
  kind.value = method.kind
  if (method.kind === 'decaying-average') newest.value = method.newest
  if (method.kind === 'recent-mean') last.value = method.last
}
watch(newest, () => (kind.value = 'decaying-average'), { flush: 'sync' })
watch(last, () => (kind.value = 'recent-mean'), { flush: 'sync' })
const method = computed(() => data.value!.settings[chosen.value]!)

const ticked = ref<number[]>([])
const applied = computed(() => {
  const all = data.value?.outcomes ?? []
  return outcome.value ? [outcome.value] : all.filter((one) => ticked.value.includes(one.id))
})
/** Whether what is applied is applied to an outcome: the ones ticked, or all without an own method. */
type Compared = NonNullable<typeof data.value>['outcomes'][number]
function touches(one: Compared): boolean {
  if (outcome.value) return true
  return ticked.value.length ? ticked.value.includes(one.id) : !one.own_method
}
const touched = computed(() => data.value?.outcomes.map(touches) ?? [])
/** The setting that each outcome keeps, whatever is applied; null: it takes what is. */
const keeps = computed(
  () => new Map(data.value?.outcomes.map((one) => [one.id, touches(one) ? null : one.present])),
)
const settings = computed(
  () => data.value?.outcomes.map((one) => keeps.value.get(one.id) ?? chosen.value) ?? [],
)
const scope = computed({
  get: () => outcomeId.value,
  set: (id) => void router.replace({ query: id === null ? {} : { outcome: id } }),
})
/** The outcomes of the class, which the answer for one outcome does not name. */
const { data: whole } = useComparison(() => props.classId, null)
const choices = computed(() => whole.value?.outcomes ?? data.value?.outcomes ?? [])

const byId = computed(() => new Map(data.value?.students.map((one) => [one.id, one])))
const codeOf = computed(() => new Map(data.value?.outcomes.map((one) => [one.id, one.code])))
function nameOf(cell: ComparedCellOut): string {
  const name = byId.value.get(cell.student_id)?.name ?? ''
  return outcome.value ? name : `${name} ${codeOf.value.get(cell.outcome_id)}`
}
const drawn = computed(() =>
  outcome.value && student.value && cellOf(student.value, outcome.value.id) ? student.value : null,
)
const draw = (id: number) =>
  void router.replace({
    query: { ...route.query, student: id === student.value ? undefined : id },
  })
usePageTitle('Compare methods')
</script>

<template>
  <div class="compare-page">
    <div class="page main">
      <div class="page-head">
        <h1>Compare methods</h1>
        <SelectField v-model="scope" label="What is compared" bare>
          <option :value="null">The whole class</option>
          <option v-for="one in choices" :key="one.id" :value="one.id">
            {{ one.code }} {{ one.title }}
          </option>
        </SelectField>
        <Tag v-if="data">{{ several(data.students.length, 'student') }}</Tag>
        <div class="actions">
          <LinkButton bare :to="{ name: 'mastery', params: { classId } }">Mastery wall</LinkButton>
        </div>
      </div>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <template v-if="data && !error">
        <EmptyState v-if="!data.cells.length" title="No evidence to compare methods with">
          As soon as work is marked, each method is shown here with what it comes to.
          <template #steps
            ><LinkButton main :to="{ name: 'tasks', params: { classId } }"
              >See the tasks</LinkButton
            ></template
          >
        </EmptyState>
        <template v-else>
          <div class="sliders">
            <SliderField
              v-model="newest"
              label="What the newest piece counts"
              :min="50"
              :max="95"
              :said="`${newest}%`"
            />
            <SliderField
              v-model="last"
              label="Pieces in the recent mean"
              :min="2"
              :max="20"
              :said="String(last)"
            />
          </div>
          <CompareOutcome
            v-if="outcome && scale"
            :comparison="data"
            :students="students"
            :cell-of="(id) => cellOf(id, outcome!.id)"
            :scale="scale"
            :columns="columns"
            :present="outcome.present"
            :chosen="chosen"
            :student="drawn"
            @choose="look"
            @student="draw"
          />
          <CompareClass
            v-else-if="!outcome"
            v-model:ticked="ticked"
            :comparison="data"
            :students="students"
            :cell-of="cellOf"
            :scales="scales"
            :settings="settings"
            :touched="touched"
          />
          <p class="small quiet legend">
            <template v-if="outcome"
              >Choose a method at the top of its column, a student to draw their evidence. Gains,
              loses: mastery. Up, down: a level.</template
            >
            <template v-else
              >Under {{ method.name }}, against what holds now. Tick outcomes to look at them
              alone.<template v-if="data.outcomes.some((one) => one.own_method)">
                * keeps its own method.</template
              ></template
            >
          </p>
        </template>
      </template>
    </div>
    <SidePanel v-if="data?.cells.length && !error" label="What would change" :open="false">
      <StudentUnder
        v-if="drawn && outcome"
        :class-id="classId"
        :student-id="drawn"
        :outcome-id="outcome.id"
        :method="method"
      />
      <WhatWouldChange
        v-model:chosen="chosen"
        :comparison="data"
        :columns="columns"
        :present="present"
        :name-of="nameOf"
        :keeps="keeps"
      />
      <AgreesBest :comparison="data" @look="look" />
      <ApplyMethod
        :comparison="data"
        :method="method"
        :outcomes="applied"
        :holds="!ticked.length && chosen === present"
      />
    </SidePanel>
  </div>
</template>

<style scoped>
.compare-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 344px;
  height: calc(100vh - 57px);
}
.main {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding-bottom: 8px;
}
.page-head .input {
  width: 240px;
}
.sliders {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  padding-bottom: 10px;
}
.legend {
  padding-top: 6px;
}
.compare-page :deep(.side) {
  overflow: auto;
}
@media (max-width: 900px) {
  .compare-page {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
}
</style>
