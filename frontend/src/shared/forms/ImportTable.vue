<script setup lang="ts" generic="Preview extends PreviewLike">
import Notice from '@/design/telling/Notice.vue'
import { NButton, NTable } from 'naive-ui'
import { ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { asProblem } from '@/api/client'
import FilePick from '@/design/controls/FilePick.vue'
import TextField from '@/design/controls/TextField.vue'
import { several } from '@/design/format'
import type { SentTable } from './sendTable'
import { useKeptText } from './useKeptText'
import { useSending } from './useSending'
import { vOpens } from '@/design/focus'

/** Importing a table, by file or paste: what was read, its problems, then all or nothing. */
export interface PreviewLike {
  text: string
  headings: string[]
  columns: Record<string, string>
  lines: { number: number; status: string; problem: string; field: string }[]
  adding: number
  changing: number
  problems: number
}

const props = defineProps<{
  /** The name by which what is pasted is kept until it is imported. */
  form: string
  what: string
  columns: { field: string; label: string }[]
  example: string
  preview: (sent: SentTable) => Promise<Preview>
  /** Import it; gives what is to be told of it. */
  importIt: (sent: SentTable) => Promise<number>
  /** Something is to be done besides adding and changing. */
  more?: boolean
}>()
const emit = defineEmits<{ done: [told: number]; cancel: [] }>()

const { text, used } = useKeptText(props.form)
const chosen = ref<Record<string, string>>({})
const read = ref<Preview | null>(null)
const { problem, busy, send } = useSending()
let newest = 0

const STATUS: Record<string, string> = {
  new: 'new',
  joins: 'known, joins this class',
  changes: 'other words than now: changes',
  'already-there': 'there already, left alone',
  problem: 'problem',
}

async function look(file?: File) {
  const number = ++newest
  problem.value = null
  if (!file && !text.value.trim()) {
    read.value = null
    return
  }
  try {
    const answer = await props.preview(
      file ? { file, columns: chosen.value } : { text: text.value, columns: chosen.value },
    )
    if (number !== newest) return
    read.value = answer
    if (file) text.value = answer.text
  } catch (error) {
    if (number !== newest) return
    problem.value = asProblem(error)
    read.value = null
  }
}

watchDebounced(
  text,
  (now) => {
    if (now !== read.value?.text) void look()
  },
  { debounce: 350 },
)
watch(chosen, () => void look(), { deep: true })
if (text.value) void look()

function chooseColumn(field: string, event: Event) {
  chosen.value = { ...chosen.value, [field]: (event.target as HTMLSelectElement).value }
}

const apply = () =>
  send(async () => {
    const told = await props.importIt({ text: text.value, columns: chosen.value })
    used()
    emit('done', told)
  })

function cell(line: Preview['lines'][number], field: string): string {
  return String((line as unknown as Record<string, unknown>)[field] ?? '')
}
</script>

<template>
  <section v-opens class="import" :aria-label="`Import ${what}`">
    <div class="row">
      <h2>Import {{ what }}</h2>
      <NButton class="push" quaternary @click="emit('cancel')">Close</NButton>
    </div>
    <p class="small quiet">
      Choose a CSV file, or copy the cells in a spreadsheet and paste them here. The first line
      holds the headings: {{ columns.map((one) => one.label).join(', ') }}.
    </p>
    <FilePick
      label="Choose a file"
      accept=".csv,.tsv,.txt,text/*"
      chosen="or drop it here, or paste its cells below"
      @pick="look"
    />
    <TextField
      v-model="text"
      :label="`Text of ${what}`"
      :rows="7"
      :placeholder="example"
      spellcheck="false"
      multiline
      bare
    />
    <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
    <div v-if="read || problem?.at('columns')" class="columns">
      <label v-for="one in columns" :key="one.field" class="small">
        {{ one.label }}
        <select
          class="input"
          :value="chosen[one.field] ?? read?.columns[one.field] ?? ''"
          @change="chooseColumn(one.field, $event)"
        >
          <option value="">no column</option>
          <option v-for="heading in read?.headings ?? []" :key="heading">{{ heading }}</option>
        </select>
      </label>
    </div>
    <template v-if="read">
      <p role="status">
        <b>{{ several(read.adding, 'line') }}</b> to add<template v-if="read.changing"
          >, <b>{{ read.changing }}</b> to change</template
        ><template v-if="read.problems"
          >, <b class="clay">{{ several(read.problems, 'problem') }}</b> to fix first</template
        >.
        <slot name="also" :read="read" />
      </p>
      <div class="preview" tabindex="0" role="region" aria-label="What was read">
        <NTable class="list" size="small">
          <thead>
            <tr>
              <th class="num">Line</th>
              <th v-for="one in columns" :key="one.field">{{ one.label }}</th>
              <th>What happens</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="line in read.lines" :key="line.number">
              <td class="num quiet">{{ line.number }}</td>
              <td
                v-for="one in columns"
                :key="one.field"
                :class="{ bad: line.problem && line.field === one.field }"
              >
                {{ cell(line, one.field) || '–' }}
              </td>
              <td>
                <span v-if="line.problem" class="clay"><b>Problem:</b> {{ line.problem }}</span>
                <span v-else class="quiet"
                  ><slot name="line" :line="line as Preview['lines'][number]">{{
                    STATUS[line.status]
                  }}</slot></span
                >
              </td>
            </tr>
          </tbody>
        </NTable>
      </div>
      <div class="row">
        <NButton
          type="primary"
          :disabled="busy || !(read.adding || read.changing || more) || read.problems > 0"
          @click="apply"
        >
          {{ read.changing || more ? 'Import' : `Add ${read.adding}` }}
        </NButton>
        <span v-if="read.problems" class="small clay"
          >Fix these lines in the text or in the file; nothing is added until then.</span
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
.import {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 14px 16px 16px;
  display: grid;
  gap: 10px;
  margin-bottom: 16px;
}
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.columns select {
  min-width: 130px;
}
.preview {
  max-height: 320px;
  overflow: auto;
}
.bad {
  box-shadow: inset 0 0 0 2px var(--clay);
}
</style>
