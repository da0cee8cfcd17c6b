<script setup lang="ts" generic="Preview extends PreviewLike">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import FilePick from '@/design/controls/FilePick.vue'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import Notice from '@/design/telling/Notice.vue'
import ImportColumns from './ImportColumns.vue'
import ImportLines from './ImportLines.vue'
import type { Imported, SentTable } from './sendTable'
import { useTableImport, type PreviewLike } from './useTableImport'

/** Importing a table, by file or paste: what was read, what is wrong with it, then doing it. */
const props = defineProps<{
  /** The name by which what is pasted is kept until it is imported. */
  form: string
  what: string
  columns: { field: string; label: string }[]
  /** A field that is only chosen: a column of whole names. */
  whole?: { field: string; label: string }
  example: string
  preview: (sent: SentTable) => Promise<Preview>
  importIt: (sent: SentTable, leaveOut: boolean) => Promise<Imported>
  /** Something is to be done besides adding and changing. */
  more?: boolean
}>()
const emit = defineEmits<{ done: [imported: Imported, read: Preview]; cancel: [] }>()

const it = useTableImport<Preview>({
  form: props.form,
  fields: props.columns.map((one) => one.field),
  preview: (sent) => props.preview(sent),
  importIt: (sent, leaveOut) => props.importIt(sent, leaveOut),
})
const { text, choices, sheet, sheets, looking, problem, ready } = it
const read = computed(() => it.read.value as Preview | null)
/** Lines that the last import left out, which stay here to be mended. */
const left = ref(0)
const something = computed(
  () => read.value !== null && (read.value.adding > 0 || read.value.changing > 0 || !!props.more),
)

async function apply(leaveOut: boolean) {
  const before = read.value
  if (!before) return
  const done = await it.apply(leaveOut)
  if (!done) return
  left.value = done.left_out ? before.problems : 0
  emit('done', done, before)
}
const leftFile = computed(() =>
  left.value ? `data:text/csv;charset=utf-8,${encodeURIComponent(`\ufeff${text.value}`)}` : '',
)
</script>

<template>
  <section v-opens class="import" :aria-label="`Import ${what}`">
    <div class="row">
      <h2>Import {{ what }}</h2>
      <NButton class="push" quaternary @click="emit('cancel')">Close</NButton>
    </div>
    <Notice v-if="left" role="status">
      {{ several(left, 'line was', 'lines were') }} left out and
      {{ left === 1 ? 'is' : 'are' }} here now, to be corrected and imported.
      <a :href="leftFile" download="left-out.csv">Download {{ left === 1 ? 'it' : 'them' }}</a>
    </Notice>
    <p v-else class="small quiet">
      Choose a spreadsheet (XLSX) or CSV file, or copy the cells in a spreadsheet and paste them
      here. Headings may have any name and be in any language; you see first what is read.
    </p>
    <FilePick
      label="Choose a file"
      accept=".xlsx,.csv,.tsv,.txt,text/*"
      chosen="or drop it here, or paste its cells below"
      @pick="it.pick"
    />
    <SelectField
      v-if="sheets.length > 1"
      class="sheet"
      :model-value="sheet"
      label="Sheet"
      @update:model-value="it.pickSheet"
    >
      <option v-for="name in sheets" :key="name">{{ name }}</option>
    </SelectField>
    <TextField
      v-model="text"
      :label="`Text of ${what}`"
      :rows="read ? 4 : 7"
      :placeholder="example"
      spellcheck="false"
      multiline
      bare
    />
    <p v-if="looking && !read" class="quiet" role="status">Reading …</p>
    <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
    <ImportColumns
      v-if="read"
      v-model:columns="choices.columns"
      v-model:headed="choices.headed"
      v-model:names="choices.names"
      :read="read"
      :fields="whole ? [whole, ...columns] : columns"
      :whole="whole?.field"
    />
    <template v-if="read && !read.needed">
      <p role="status">
        <b>{{ several(read.adding, 'line') }}</b> to add<template v-if="read.changing"
          >, <b>{{ read.changing }}</b> to change</template
        ><template v-if="read.problems"
          >, <b class="clay">{{ several(read.problems, 'line') }} with a problem</b></template
        >.
        <slot name="also" :read="read" />
      </p>
      <ImportLines :lines="read.lines" :columns="columns" @mend="it.mend">
        <template #line="{ line }"
          ><slot name="line" :line="line as Preview['lines'][number]"
        /></template>
      </ImportLines>
      <div class="row">
        <NButton
          type="primary"
          :disabled="!ready || !something || read.problems > 0"
          @click="apply(false)"
        >
          {{ read.changing || more ? 'Import' : `Add ${read.adding}` }}
        </NButton>
        <template v-if="read.problems">
          <NButton :disabled="!ready || !something" @click="apply(true)">
            Leave {{ several(read.problems, 'line') }} out, and import the rest
          </NButton>
          <span class="small clay">Correct the lines above, or leave them out.</span>
        </template>
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
.sheet {
  max-width: 320px;
}
.row {
  flex-wrap: wrap;
}
</style>
