<script setup lang="ts" generic="Line extends PreviewLike['lines'][number]">
import { NButton, NInput, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import type { PreviewLike } from './useTableImport'

/** The lines of a table: those with a problem first, to be corrected where they stand. */
const props = defineProps<{ lines: Line[]; columns: { field: string; label: string }[] }>()
const emit = defineEmits<{ mend: [line: Line, field: string, typed: string] }>()

const STATUS: Record<string, string> = {
  new: 'new',
  joins: 'known, joins this class',
  changes: 'differs from now: changes',
  'already-there': 'there already, left alone',
  problem: 'problem',
}
/** More rows than anybody reads; a table of thousands would take seconds to draw. */
const FEW = 40
const all = ref(false)
const bad = computed(() => props.lines.filter((line) => line.problem))
const good = computed(() => props.lines.filter((line) => !line.problem))
const shownBad = computed(() => (all.value ? bad.value : bad.value.slice(0, FEW)))
const shownGood = computed(() => (all.value ? good.value : good.value.slice(0, FEW)))
const hidden = computed(() => props.lines.length - shownBad.value.length - shownGood.value.length)
const MOST = 1000

function cell(line: Line, field: string): string {
  return String((line as unknown as Record<string, unknown>)[field] ?? '')
}
</script>

<template>
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
        <tr v-for="line in shownBad" :key="line.number">
          <td class="num quiet">{{ line.number }}</td>
          <td v-for="one in columns" :key="one.field">
            <NInput
              size="small"
              :default-value="cell(line, one.field)"
              :status="line.field === one.field ? 'error' : undefined"
              :input-props="{
                'aria-label': `${one.label} of line ${line.number}`,
                'aria-invalid': line.field === one.field ? 'true' : undefined,
              }"
              placeholder=""
              @change="(typed: string) => emit('mend', line, one.field, typed)"
            />
          </td>
          <td class="clay"><b>Problem:</b> {{ line.problem }}</td>
        </tr>
        <tr v-for="line in shownGood" :key="line.number">
          <td class="num quiet">{{ line.number }}</td>
          <td v-for="one in columns" :key="one.field">{{ cell(line, one.field) || '–' }}</td>
          <td class="quiet">
            <slot name="line" :line="line">{{ STATUS[line.status] }}</slot>
          </td>
        </tr>
      </tbody>
    </NTable>
    <p v-if="hidden" class="small quiet more">
      {{ hidden }} more lines
      <NButton v-if="!all && lines.length <= MOST" text size="small" @click="all = true"
        >Show them</NButton
      >
    </p>
  </div>
</template>

<style scoped>
.preview {
  max-height: 340px;
  overflow: auto;
}
.more {
  padding: 8px;
}
</style>
