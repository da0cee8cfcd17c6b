<script setup lang="ts">
import TextField from '@/design/controls/TextField.vue'
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import { watchDebounced } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import type { CutPreset, ScaleEffectsOut, ScaleInLibraryOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import LevelChanges from '@/shared/LevelChanges.vue'
import ScalePicture from '@/design/ScalePicture.vue'
import { several } from '@/design/format'
import { useDraft } from '@/shared/forms/useDraft'
import AskedCells from './AskedCells.vue'
import ScaleLevelRows from './ScaleLevelRows.vue'
import type { ScaleDraft } from './useScales'

/** A scale: its ladder, its levels from the top down like rungs, and what a change would do. */
const props = defineProps<{
  /** The scale to change, or none to make one of `start`. */
  scale: ScaleInLibraryOut | null
  start: ScaleDraft
  scales: ScaleInLibraryOut[]
  cut?: CutPreset
}>()
const emit = defineEmits<{ made: [id: number]; close: [] }>()
const refresh = useRefresh().outcomes
const { problem, send } = useSending(refresh)
const cutting = useSending()
const form = useDraft('scale', () => {
  const { name, mastery_level, levels } = props.scale ?? props.start
  const { start } = props
  const fresh = { id: `new ${start.levels.length} ${start.name}`, version: 0 }
  const { id, version } = props.scale ?? fresh
  return { id, version, body: { name, mastery_level, levels } }
})
const draft = form.body
const effects = ref<ScaleEffectsOut | null>(null)
/** What was decided on values written by hand, by where they stand. */
const decided = ref<Record<string, string>>({})
const cells = computed(() =>
  (effects.value?.asked ?? []).map((one) => {
    const { rubric_id, criterion, level, outcome_id, was, offered } = one
    const key = [rubric_id, criterion, level, outcome_id, was].join(' ')
    const value = decided.value[key] ?? offered
    return { rubric_id, criterion, level, outcome_id, was, value }
  }),
)
const readOnly = computed(() => props.scale !== null && !props.scale.changeable)
const inUse = computed(() => Boolean(props.scale?.outcomes))
const topDown = computed(() => draft.levels.map((_, index) => draft.levels.length - 1 - index))
const changes = computed(() => effects.value?.classes.flatMap((one) => one.changes) ?? [])

function reset() {
  problem.value = null
  form.showTheirs()
}

async function cutBy(preset: CutPreset) {
  await cutting.send(async () => {
    const values = draft.levels.map((level) => level.value)
    const { cuts } = await ask(api.POST('/api/scales/cuts', { body: { values, preset } }))
    cuts.forEach((cut, index) => (draft.levels[index]!.cut = cut))
  })
  problem.value = cutting.problem.value
}

function addLevel() {
  const last = draft.levels.at(-1)
  const value = String(Number(last?.value ?? 0) + 1)
  draft.levels.push({ name: '', code: '', value, cut: value, description: '' })
}

function remove(index: number) {
  draft.levels.splice(index, 1)
  if (index < draft.mastery_level) draft.mastery_level -= 1
  draft.mastery_level = Math.min(draft.mastery_level, draft.levels.length - 1)
}

const params = computed(() => ({ path: { scale_id: props.scale?.id ?? 0 } }))

/** Ask whose level the change would move, before it is made. */
async function look() {
  if (!props.scale || !inUse.value || !form.dirty) {
    effects.value = null
    return
  }
  try {
    const body = { ...draft, version: form.version, cells: cells.value }
    effects.value = await ask(
      api.POST('/api/scales/{scale_id}/preview', { params: params.value, body }),
    )
  } catch (error) {
    // What is wrong with it is told at its field when it is saved; what is asked for stays there.
    const asking = asProblem(error).errors.some((one) => one.field.startsWith('cells'))
    if (!asking) effects.value = null
  }
}
watchDebounced([draft, () => props.scale, decided], look, { debounce: 250, deep: true })
if (props.cut) void cutBy(props.cut)

async function save() {
  let made = 0
  const { scale } = props
  // Values written by hand would not come back to the digit.
  const whole = !effects.value?.asked.length && !effects.value?.cells_elsewhere
  const putBack = async () => {
    if (!scale) return
    const { name, mastery_level, levels } = scale
    const body = { name, mastery_level, levels, version: props.scale?.version ?? 0, cells: [] }
    await ask(api.PUT('/api/scales/{scale_id}', { params: params.value, body }))
    await refresh()
  }
  const done = await send(async () => {
    if (!props.scale) {
      made = (await ask(api.POST('/api/scales', { body: draft }))).id
      form.saved()
      return
    }
    const body = { ...draft, version: form.version, cells: cells.value }
    await ask(api.PUT('/api/scales/{scale_id}', { params: params.value, body }))
    form.saved()
    effects.value = null
  })
  if (!done) {
    if (props.scale && !problem.value?.stale) await look()
    return
  }
  if (made) say(`${draft.name} is in the library`)
  else
    say(
      'The scale is changed',
      whole ? { work: putBack, undone: 'The scale is as it was' } : undefined,
    )
  if (made) emit('made', made)
}
</script>

<template>
  <form novalidate @submit.prevent="save">
    <div class="row">
      <h2>{{ scale ? scale.name : 'New scale' }}</h2>
      <NButton class="push" quaternary @click="emit('close')">Close</NButton>
    </div>
    <FormProblem v-if="!problem" :problem="null" :draft="form" />
    <ScalePicture :levels="draft.levels" :mastery-level="draft.mastery_level" />
    <TextField
      v-model="draft.name"
      :disabled="readOnly"
      label="Name of the scale"
      placeholder="Name of the scale"
      :error="problem?.at('name')"
      bare
    />
    <fieldset :disabled="readOnly">
      <table>
        <thead>
          <tr>
            <th>Level</th>
            <th>Code</th>
            <th>Value</th>
            <th>Counts from</th>
            <th>Mastery</th>
            <th><span class="visually-hidden">Delete</span></th>
          </tr>
        </thead>
        <tbody v-for="index in topDown" :key="index">
          <template v-if="draft.levels[index]">
            <ScaleLevelRows
              v-model="draft.levels[index]"
              v-model:mastery-level="draft.mastery_level"
              :index="index"
              :removable="draft.levels.length > 2"
              :problem="problem"
              @remove="remove(index)"
            />
          </template>
        </tbody>
      </table>
      <p class="small">
        Cut
        <NButton class="link" text @click="cutBy('three-quarters')">
          three quarters of the way up
        </NButton>
        or
        <NButton class="link" text @click="cutBy('at-the-value')">at the values</NButton> ·
        <NButton class="link" text :disabled="draft.levels.length >= 10" @click="addLevel">
          add a level on top
        </NButton>
      </p>
    </fieldset>
    <p class="small quiet">A mastery value counts as a level from its cut score on.</p>
    <div class="end">
      <FormProblem v-if="form.meanwhile" :problem="null" :draft="form" />
      <Notice v-else-if="problem && !problem.stale && !problem.at('name')" clay role="alert">
        {{ problem.message }}
      </Notice>
      <template v-if="form.dirty && effects">
        <LevelChanges
          :changes="changes"
          :most="4"
          :scales="scales"
          :scale-after="scale ? { id: scale.id, ...draft } : undefined"
        />
        <AskedCells
          v-if="effects.asked.length"
          v-model="decided"
          :cells="effects.asked"
          :problem="(index) => problem?.at(`cells.${index}.value`)"
        />
        <p v-if="effects.cells" class="small">
          {{ several(effects.cells, 'value') }} of aligned levels would move with it.
        </p>
        <p v-if="effects.cells_elsewhere" class="small">
          {{ several(effects.cells_elsewhere, 'value') }} that other teachers wrote by hand would
          take the matching place; they are told.
        </p>
        <p v-if="effects.elsewhere" class="small">
          And {{ several(effects.elsewhere, 'level') }} in classes of other teachers.
        </p>
      </template>
      <Notice v-if="readOnly" class="small">
        This scale is the school’s: its administrator changes it. Copy it, and change the copy.
      </Notice>
      <div v-else-if="form.dirty || !scale" class="row">
        <NButton type="primary" attr-type="submit">
          {{ scale ? 'Save the scale' : 'Add to the library' }}
        </NButton>
        <NButton v-if="scale" quaternary @click="reset">Discard the changes</NButton>
      </div>
    </div>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  font-size: 11.5px;
  text-align: left;
  font-weight: 600;
  color: var(--ink-2);
  padding: 0 3px 3px 0;
}
.end {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  position: sticky;
  bottom: 0;
  background: var(--card);
  padding: 6px 0;
  max-height: 50vh;
  overflow-y: auto;
}
</style>
