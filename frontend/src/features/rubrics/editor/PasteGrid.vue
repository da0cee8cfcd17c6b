<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { ref } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { GridOut } from '@/api/schema'
import { several } from '@/design/format'
import { fromGrid, type DraftCriterion } from './criteria'
import { vOpens } from '@/design/focus'

/** A grid from a spreadsheet or a word processor, read as criteria before it is taken. */
const emit = defineEmits<{ take: [criteria: DraftCriterion[]]; cancel: [] }>()
const text = ref('')
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

/** A table copied from a word processor comes with its cells; the text alone would lose them. */
async function paste(event: ClipboardEvent) {
  const html = event.clipboardData?.getData('text/html') ?? ''
  if (!/<table[\s>]/i.test(html)) return
  event.preventDefault()
  await read(html)
  text.value = grid.value?.text ?? event.clipboardData?.getData('text/plain') ?? ''
}

function take() {
  if (grid.value) emit('take', fromGrid(grid.value.criteria))
}
</script>

<template>
  <section v-opens class="opened" aria-label="Paste a grid">
    <div class="row">
      <h2>Paste a grid</h2>
      <button class="btn bare push" type="button" @click="emit('cancel')">Cancel</button>
    </div>
    <p class="small quiet">
      Copy the cells from a spreadsheet or a table in a document: criteria down the side, levels
      across. Points may stand in the headings, as in “Strong (4)”.
    </p>
    <textarea
      v-model="text"
      class="input"
      rows="5"
      aria-label="Cells of the grid"
      placeholder="Criterion	Weak (1)	Strong (2)"
      spellcheck="false"
      @paste="paste"
    />
    <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
    <template v-if="grid">
      <p v-for="note in grid.notes" :key="note" class="small clay">{{ note }}.</p>
      <div class="row options">
        <label class="row"
          ><input
            type="checkbox"
            :checked="grid.levels_in_first_row"
            @change="headed = ($event.target as HTMLInputElement).checked"
          />
          The first row names the levels</label
        >
        <label class="row"
          ><input
            type="checkbox"
            :checked="grid.best_first"
            @change="bestFirst = ($event.target as HTMLInputElement).checked"
          />
          The best level stands first</label
        >
      </div>
      <div class="table-scroll">
        <table class="list">
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
        </table>
      </div>
      <div class="row">
        <button class="btn main" type="button" @click="take">
          Add {{ several(grid.criteria.length, 'criterion', 'criteria') }}
        </button>
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
