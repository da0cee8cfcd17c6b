<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { ref } from 'vue'
import type { OutcomeListOut } from '@/api/schema'
import ImportTable from '@/shared/imports/ImportTable.vue'
import { several } from '@/design/format'
import { sendTable, type Imported } from '@/shared/imports/sendTable'

/** Importing a list of outcomes: what is new, changed and gone against the class. */
const props = defineProps<{ classId: number }>()
const emit = defineEmits<{ done: [entry: number, words: string, stays: boolean]; cancel: [] }>()
const retire = ref(false)
const last = ref<OutcomeListOut | null>(null)

const COLUMNS = [
  { field: 'code', label: 'Code' },
  { field: 'title', label: 'Title' },
  { field: 'description', label: 'Description' },
  { field: 'strand', label: 'Strand' },
]
const EXAMPLE =
  'Code\tTitle\tDescription\tStrand\nW1\tI can plot and follow a bearing\tOn paper and on the ground\tFinding the way'

function imported({ id, left_out }: Imported, read: OutcomeListOut) {
  const parts = [
    read.adding ? `${several(read.adding, 'outcome')} added` : '',
    read.changing ? `${read.changing} changed` : '',
    retire.value && read.gone.length ? `${read.gone.length} retired` : '',
  ]
  emit('done', id, `${parts.filter(Boolean).join(', ')}.`, left_out !== '')
}
</script>

<template>
  <ImportTable
    :form="`outcomes of ${classId}`"
    what="a list of outcomes"
    :columns="COLUMNS"
    :example="EXAMPLE"
    :preview="async (sent) => (last = await sendTable.outcomes.preview(classId, sent))"
    :import-it="(sent, leave) => sendTable.outcomes.import(props.classId, sent, leave, retire)"
    :more="retire && Boolean(last?.gone.length)"
    @done="imported"
    @cancel="emit('cancel')"
  >
    <template #also="{ read }">
      <span v-if="read.new_strands.length" class="quiet"
        >New strands: {{ read.new_strands.join(', ') }}.</span
      >
      <NCheckbox v-if="read.gone.length" class="small gone" v-model:checked="retire"
        >Retire {{ several(read.gone.length, 'outcome') }} of the class not in this list:
        {{ read.gone.slice(0, 12).join(', ') }}{{ read.gone.length > 12 ? ' …' : '' }}; the evidence
        stays</NCheckbox
      >
    </template>
    <template #line="{ line }">
      <template v-if="line.status === 'changes' && line.was !== line.title"
        >changes, was “{{ line.was }}”</template
      >
    </template>
  </ImportTable>
</template>

<style scoped>
.gone {
  margin-top: 8px;
}
</style>
