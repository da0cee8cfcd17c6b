<script setup lang="ts">
import { levelWords } from '@/design/format'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { MasteryOut, TrailOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import Ladder from '@/design/Ladder.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { useSending } from '@/shared/forms/useSending'
import { ladderWords } from '@/features/mastery/wall'

/** Pieces that are imagined, and where they would lead; nothing of it is kept. */
const props = defineProps<{ classId: number; trail: TrailOut }>()
const { problem, send } = useSending()
/** A level and a half-way above it, as one number: 5 is half-way above level 2. */
const step = ref(2 * props.trail.scale.mastery_level)
const task = ref<number | null>(null)
interface Imagined {
  level: number
  half_way: boolean
  task_id: number | null
}
const pieces = ref<Imagined[]>([])
const led = ref<MasteryOut[]>([])
const steps = computed(() =>
  props.trail.scale.levels.flatMap((one, at, all) => [
    { step: 2 * at, name: `${one.name} (${one.value})` },
    ...(at + 1 < all.length ? [{ step: 2 * at + 1, name: levelWords(one.name, true) }] : []),
  ]),
)
const tasks = computed(() => {
  const found = new Map<number, string>()
  for (const one of props.trail.pieces)
    if (one.task_id && props.trail.asked.includes(one.task_id)) found.set(one.task_id, one.task)
  return [...found].map(([id, title]) => ({ id, title }))
})
const nameOf = (one: Imagined) =>
  steps.value.find((each) => each.step === 2 * one.level + Number(one.half_way))?.name
const whereOf = (one: Imagined) =>
  one.task_id === null
    ? 'a new task'
    : `another attempt: ${tasks.value.find((each) => each.id === one.task_id)?.title}`

async function imagine(wanted: Imagined[]) {
  await send(async () => {
    led.value = wanted.length
      ? await ask(
          api.POST('/api/classes/{class_id}/mastery/{student_id}/{outcome_id}/imagine', {
            params: {
              path: {
                class_id: props.classId,
                student_id: props.trail.student_id,
                outcome_id: props.trail.outcome_id,
              },
            },
            body: { pieces: wanted },
          }),
        )
      : []
    pieces.value = wanted
  })
}
const add = () =>
  imagine([
    ...pieces.value,
    {
      level: Math.floor(step.value / 2),
      half_way: step.value % 2 === 1,
      task_id: task.value,
    },
  ])
// Other evidence or another method leads elsewhere.
watch(
  () => props.trail,
  () => pieces.value.length && imagine(pieces.value),
)
</script>

<template>
  <details class="small">
    <summary>What if …</summary>
    <form novalidate @submit.prevent="add">
      <SelectField v-model="step" label="Imagine a piece at">
        <option v-for="one in steps" :key="one.step" :value="one.step">{{ one.name }}</option>
      </SelectField>
      <SelectField v-if="tasks.length" v-model="task" label="From">
        <option :value="null">a new task</option>
        <option v-for="one in tasks" :key="one.id" :value="one.id">
          another attempt at {{ one.title }}
        </option>
      </SelectField>
      <div class="row">
        <NButton size="small" attr-type="submit">Imagine it</NButton>
        <NButton v-if="pieces.length" size="small" quaternary @click="imagine([])">Clear</NButton>
      </div>
      <FormProblem :problem="problem" />
    </form>
    <ol v-if="led.length" aria-label="Imagined pieces">
      <li v-for="(one, at) in pieces" :key="at">
        <span
          >{{ nameOf(one) }} <span class="quiet">{{ whereOf(one) }}</span></span
        >
        <span class="led"
          ><Ladder
            :level="led[at]!.level"
            :levels="trail.scale.levels.length"
            :mastery-level="trail.scale.mastery_level"
            :size="15"
            :uncertain="led[at]!.state === 'needs-evidence'"
            :label="ladderWords(led[at]!, trail.scale)"
          /><b>{{ led[at]!.value }}</b></span
        >
      </li>
    </ol>
    <p v-if="led.length" class="quiet">Only imagined: nothing is kept.</p>
  </details>
</template>

<style scoped>
form {
  margin: 6px 0;
}
ol {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
.led {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  white-space: nowrap;
}
</style>
