<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { api, ask, asProblem } from '@/api/client'
import type { ClassOut, MovesOut, ScaleOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import LevelChanges from '@/shared/LevelChanges.vue'
import { useRefresh } from '@/shared/queries'

/** How the class makes one piece of evidence of several criteria; what another way changes, first. */
const props = defineProps<{ klass: ClassOut; scales: ScaleOut[] }>()
type Combining = ClassOut['combining']
const WORDS = {
  mean: 'Their mean, by the weights of the alignments',
  highest: 'The highest of them',
  lowest: 'The lowest of them',
} satisfies Record<Combining, string>

const refresh = useRefresh().outcomes
const { problem, busy, send } = useSending(refresh)
const chosen = ref<Combining>(props.klass.combining)
const moves = ref<MovesOut | null>(null)
const dirty = computed(() => chosen.value !== props.klass.combining)
const changes = computed(() => moves.value?.classes.flatMap((one) => one.changes) ?? [])
const path = computed(() => ({ params: { path: { class_id: props.klass.id } } }))
watch(
  () => props.klass.combining,
  (now) => (chosen.value = now),
)
watch(chosen, async (now) => {
  moves.value = null
  problem.value = null
  if (now === props.klass.combining) return
  try {
    const found = await ask(
      api.POST('/api/classes/{class_id}/method/combining/preview', {
        ...path.value,
        body: { combining: now },
      }),
    )
    if (chosen.value === now) moves.value = found
  } catch (error) {
    problem.value = asProblem(error)
  }
})

const put = (combining: Combining, version: number) =>
  ask(
    api.PUT('/api/classes/{class_id}/method/combining', {
      ...path.value,
      body: { combining, version },
    }),
  )

async function save() {
  const before = props.klass.combining
  const done = await send(() => put(chosen.value, props.klass.version))
  if (!done) return
  say(`What several criteria give: ${WORDS[chosen.value].toLowerCase()}`, {
    work: async () => {
      await put(before, props.klass.version)
      await refresh()
    },
    undone: `What they give again: ${WORDS[before].toLowerCase()}`,
  })
}
</script>

<template>
  <section aria-labelledby="combining">
    <h2 id="combining">How criteria combine</h2>
    <SelectField
      v-model="chosen"
      label="Several criteria of one attempt on one outcome"
      hint="In all tasks of this class, for all days"
      :error="problem?.at('combining')"
    >
      <option v-for="(words, one) in WORDS" :key="one" :value="one">{{ words }}</option>
    </SelectField>
    <FormProblem :problem="problem" />
    <template v-if="dirty && moves">
      <LevelChanges :changes="changes" :scales="scales" />
      <p v-if="moves.elsewhere" class="small quiet">
        {{ moves.elsewhere }} more in classes of colleagues.
      </p>
      <p class="small quiet">
        Evidence is worked out anew; what was carried over stays carried over, and totals stay.
      </p>
    </template>
    <p v-else-if="dirty && !problem" class="small quiet" role="status">
      Working out what changes …
    </p>
    <div v-if="dirty" class="row">
      <NButton type="primary" :disabled="busy || !moves" @click="save">Combine them so</NButton>
      <NButton quaternary @click="chosen = klass.combining">Keep it as it is</NButton>
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
</style>
