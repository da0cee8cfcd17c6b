<script setup lang="ts">
import { useMessage } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { CutPreset, ScaleOut } from '@/api/schema'
import FormProblem from '@/design/FormProblem.vue'
import Ladder from '@/design/Ladder.vue'
import { useDraft } from '@/design/useDraft'
import { useOutcomesChanged } from './useOutcomes'

/** The proficiency scale: levels from the top down like rungs, their values and cut scores. */
const props = defineProps<{ scale: ScaleOut; classId: number }>()
const message = useMessage()
const changed = useOutcomesChanged(() => props.classId)
const problem = ref<Problem | null>(null)
const form = useDraft(() => {
  const { id, version, name, mastery_level, levels } = props.scale
  return { id, version, body: { name, mastery_level, levels } }
})
const draft = form.body

function reset() {
  problem.value = null
  form.showTheirs()
}
const topDown = computed(() => draft.levels.map((_, index) => draft.levels.length - 1 - index))

async function cutBy(preset: CutPreset) {
  problem.value = null
  try {
    const values = draft.levels.map((level) => level.value)
    const { cuts } = await ask(api.POST('/api/scales/cuts', { body: { values, preset } }))
    cuts.forEach((cut, index) => (draft.levels[index]!.cut = cut))
  } catch (error) {
    problem.value = asProblem(error)
  }
}

function addLevel() {
  const last = draft.levels.at(-1)
  const value = String(Number(last?.value ?? 0) + 1)
  draft.levels.push({ name: '', code: '', value, cut: value })
}

function removeTop() {
  draft.levels.pop()
  draft.mastery_level = Math.min(draft.mastery_level, draft.levels.length - 1)
}

async function save() {
  problem.value = null
  try {
    await ask(
      api.PUT('/api/scales/{scale_id}', {
        params: { path: { scale_id: props.scale.id } },
        body: { ...draft, version: form.version },
      }),
    )
    form.saved()
    await changed()
    message.success('The scale is changed')
  } catch (error) {
    problem.value = asProblem(error)
    if (problem.value.stale) await changed()
  }
}

function at(index: number, field: string): string | undefined {
  return problem.value?.at(`levels.${index}.${field}`)
}

defineExpose({
  /** Cut three quarters of the way up and save at once, as the method's warning offers. */
  async cutThreeQuarters() {
    await cutBy('three-quarters')
    if (!problem.value) await save()
  },
})
</script>

<template>
  <section>
    <h2>Proficiency scale</h2>
    <div class="row">
      <Ladder
        :level="draft.mastery_level"
        :levels="draft.levels.length"
        :mastery-level="draft.mastery_level"
        :size="44"
      />
      <input v-model="draft.name" class="input" aria-label="Name of the scale" />
    </div>
    <table>
      <thead>
        <tr>
          <th>Level</th>
          <th>Code</th>
          <th>Value</th>
          <th>Counts from</th>
          <th>Mastery</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="index in topDown" :key="index">
          <tr v-if="draft.levels[index]" :class="{ mastered: index >= draft.mastery_level }">
            <td>
              <input
                v-model="draft.levels[index].name"
                class="input"
                :aria-label="`Name of level ${index + 1}`"
                :aria-invalid="at(index, 'name') ? 'true' : undefined"
              />
            </td>
            <td>
              <input
                v-model="draft.levels[index].code"
                class="input"
                :aria-label="`Code of level ${index + 1}`"
                :aria-invalid="at(index, 'code') ? 'true' : undefined"
              />
            </td>
            <td>
              <input
                v-model="draft.levels[index].value"
                class="input"
                inputmode="decimal"
                :aria-label="`Value of level ${index + 1}`"
                :aria-invalid="at(index, 'value') ? 'true' : undefined"
              />
            </td>
            <td>
              <input
                v-model="draft.levels[index].cut"
                class="input"
                inputmode="decimal"
                :aria-label="`Cut score of level ${index + 1}`"
                :aria-invalid="at(index, 'cut') ? 'true' : undefined"
              />
            </td>
            <td class="radio">
              <input
                v-model="draft.mastery_level"
                type="radio"
                :value="index"
                name="mastery"
                :aria-label="`Level ${index + 1} is mastery`"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <FormProblem v-if="form.meanwhile" :problem="null" :draft="form" />
    <p v-else-if="problem && !problem.stale" class="notice clay" role="alert">
      {{ problem.message }}
    </p>
    <p class="small">
      Cut
      <button class="link" type="button" @click="cutBy('three-quarters')">
        three quarters of the way up
      </button>
      or
      <button class="link" type="button" @click="cutBy('at-the-value')">at the values</button> ·
      <button class="link" type="button" :disabled="draft.levels.length >= 10" @click="addLevel">
        add a level on top
      </button>
      <template v-if="draft.levels.length > 2">
        ·
        <button class="link" type="button" @click="removeTop">
          take the top one away
        </button></template
      >
    </p>
    <p class="small quiet">A mastery value counts as a level from its cut score on.</p>
    <div v-if="form.dirty" class="row">
      <button class="btn main" type="button" @click="save">Save the scale</button>
      <button class="btn bare" type="button" @click="reset">Undo</button>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  margin-top: 22px;
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
td {
  padding: 2px 3px 2px 0;
}
td:nth-child(2) {
  width: 46px;
}
td:nth-child(3),
td:nth-child(4) {
  width: 66px;
}
td .input {
  padding-inline: 6px;
}
tr.mastered td:first-child {
  box-shadow: inset 3px 0 0 var(--jade);
  padding-left: 6px;
}
.radio {
  text-align: center;
}
.radio input {
  width: 18px;
  height: 18px;
  accent-color: var(--ink);
}
</style>
