<script setup lang="ts">
import TextField from '@/design/controls/TextField.vue'
import Notice from '@/design/telling/Notice.vue'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { watchDebounced } from '@vueuse/core'
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { GridOut } from '@/api/schema'
import { several } from '@/design/format'
import { useKeptText } from '@/shared/forms/useKeptText'
import { fromGrid, type DraftCriterion } from './criteria'
import { vOpens } from '@/design/focus'

/** A grid from a spreadsheet or a word processor, read as criteria before it is taken. */
const emit = defineEmits<{ take: [criteria: DraftCriterion[]]; cancel: [] }>()
const { text, used } = useKeptText(`grid of ${useRoute().params.rubricId as string}`)
const headed = ref<boolean | null>(null)
const bestFirst = ref<boolean | null>(null)
const grid = ref<GridOut | null>(null)
const problem = ref<Problem | null>(null)

async function read(content: string) {
  problem.value = null
  if (!content.trim()) {
    grid.value = null
    return
  }
  try {
    grid.value = await ask(
      api.POST('/api/rubrics/grid', {
        body: {
          text: content,
          levels_in_first_row: headed.value,
          best_first: bestFirst.value,
        },
      }),
    )
  } catch (error) {
    grid.value = null
    problem.value = asProblem(error)
  }
}
watchDebounced([text, headed, bestFirst], () => read(text.value), { debounce: 250 })
if (text.value) void read(text.value)

/** A table copied from a word processor comes with its cells; the text alone would lose them. */
async function paste(event: ClipboardEvent) {
  const html = event.clipboardData?.getData('text/html') ?? ''
  if (!/<table[\s>]/i.test(html)) return
  event.preventDefault()
  await read(html)
  text.value = grid.value?.text ?? event.clipboardData?.getData('text/plain') ?? ''
}

function take() {
  if (!grid.value) return
  used()
  emit('take', fromGrid(grid.value.criteria))
}
</script>

<template>
  <section v-opens class="opened" aria-label="Paste a grid">
    <div class="row">
      <h2>Paste a grid</h2>
      <NButton class="push" quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
    <p class="small quiet">
      Copy the cells from a spreadsheet or a table in a document: criteria down the side, levels
      across. Points may stand in the headings, as in “Strong (4)”.
    </p>
    <TextField
      v-model="text"
      :rows="5"
      label="Cells of the grid"
      placeholder="Criterion	Weak (1)	Strong (2)"
      spellcheck="false"
      multiline
      bare
      @paste="paste"
    />
    <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
    <template v-if="grid">
      <p v-for="note in grid.notes" :key="note" class="small clay">{{ note }}.</p>
      <div class="row options">
        <NCheckbox :checked="grid.levels_in_first_row" @update:checked="headed = $event"
          >The first row names the levels</NCheckbox
        >
        <NCheckbox :checked="grid.best_first" @update:checked="bestFirst = $event"
          >The best level stands first</NCheckbox
        >
      </div>
      <div class="table-scroll">
        <NTable class="list" size="small">
          <thead>
            <tr>
              <th>Criterion</th>
              <th v-for="(level, place) in grid.criteria[0]?.levels" :key="place">
                {{ level.name }} <span class="quiet">{{ level.points }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, index) in grid.criteria" :key="index">
              <td>
                <b>{{ row.title || '–' }}</b>
                <span v-if="row.weight" class="quiet small">&nbsp;{{ row.weight }}%</span>
              </td>
              <td v-for="(level, place) in row.levels" :key="place" class="small">
                {{ level.descriptor || '–' }}
              </td>
            </tr>
          </tbody>
        </NTable>
      </div>
      <div class="row">
        <NButton type="primary" @click="take">
          Add {{ several(grid.criteria.length, 'criterion', 'criteria') }}
        </NButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
.options {
  flex-wrap: wrap;
  gap: 6px 20px;
}
td {
  white-space: pre-line;
}
</style>
