<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import SelectField from '@/design/controls/SelectField.vue'
import Notice from '@/design/telling/Notice.vue'
import type { SentTable } from './sendTable'
import type { PreviewLike } from './useTableImport'

/** Which column of a table holds what, with the first values under each heading. */
const columns = defineModel<SentTable['columns']>('columns', { required: true })
const headed = defineModel<SentTable['headed']>('headed', { required: true })
const names = defineModel<SentTable['names']>('names', { required: true })
const props = defineProps<{
  read: PreviewLike
  fields: { field: string; label: string }[]
  /** The field of whole names, whose order is asked for. */
  whole?: string
}>()

const taken = computed(() => new Set(Object.values(props.read.columns)))
const leftOut = computed(() =>
  props.read.headings.filter(
    (heading, place) => !taken.value.has(heading) && props.read.samples[place]?.length,
  ),
)
const described = (heading: string) => {
  const values = props.read.samples[props.read.headings.indexOf(heading)] ?? []
  return values.length ? `${heading}: ${values.join(', ')}` : heading
}

/** A column holds one thing: what it held before has none then. */
function choose(field: string, heading: string) {
  const others = Object.entries(props.read.columns).filter(
    ([other, its]) => other !== field && its === heading && heading,
  )
  columns.value = {
    ...columns.value,
    ...Object.fromEntries(others.map(([other]) => [other, ''])),
    [field]: heading,
  }
}
</script>

<template>
  <fieldset class="columns">
    <legend class="small"><b>Which column holds what</b></legend>
    <Notice v-if="read.needed" clay role="alert">{{ read.needed }}.</Notice>
    <p v-if="read.above.length" class="small quiet">
      Passed over above the headings: {{ read.above.join(' · ') }}
    </p>
    <div class="fields">
      <SelectField
        v-for="one in fields"
        :key="one.field"
        :model-value="read.columns[one.field] ?? ''"
        :label="one.label"
        @update:model-value="choose(one.field, $event)"
      >
        <option value="">no column</option>
        <option v-for="heading in read.headings" :key="heading" :value="heading">
          {{ described(heading) }}
        </option>
      </SelectField>
      <SelectField
        v-if="whole && read.columns[whole]"
        v-model="names"
        label="Whole names are written"
      >
        <option value="">Chidi Okafor, or Okafor, Chidi</option>
        <option value="family-first">Okafor Chidi</option>
      </SelectField>
    </div>
    <p class="small row">
      <NCheckbox :checked="headed !== 'no'" @update:checked="headed = $event ? '' : 'no'"
        >The first line holds headings</NCheckbox
      >
      <span v-if="leftOut.length" class="quiet">Not imported: {{ leftOut.join(', ') }}.</span>
    </p>
  </fieldset>
</template>

<style scoped>
.columns {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 8px;
  min-width: 0;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 8px 12px;
}
.row {
  flex-wrap: wrap;
}
</style>
