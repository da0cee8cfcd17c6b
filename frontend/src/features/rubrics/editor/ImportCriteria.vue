<script setup lang="ts">
import SelectField from '@/design/controls/SelectField.vue'
import { NButton, NCheckbox, NCheckboxGroup } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import QueryState from '@/design/telling/QueryState.vue'
import { several } from '@/design/format'
import { copyOf, toDraft, type DraftCriterion } from './criteria'
import { vOpens } from '@/design/focus'

/** Criteria of another rubric, to be copied into this one with their levels and alignments. */
const props = defineProps<{ rubricId: number }>()
const emit = defineEmits<{ take: [criteria: DraftCriterion[]]; cancel: [] }>()
const { data: rubrics } = useQuery({
  key: keys.rubrics,
  query: () => ask(api.GET('/api/rubrics')),
})
const others = computed(() => (rubrics.value ?? []).filter((one) => one.id !== props.rubricId))
const from = ref<number | null>(null)
const chosen = ref<string[]>([])
const {
  data: rubric,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.rubric(from.value ?? 0),
  query: () =>
    ask(api.GET('/api/rubrics/{rubric_id}', { params: { path: { rubric_id: from.value ?? 0 } } })),
  enabled: () => from.value !== null,
})
watch(from, () => (chosen.value = []))

function take() {
  const found = rubric.value?.criteria.filter((one) => chosen.value.includes(one.key)) ?? []
  emit(
    'take',
    found.map((one) => copyOf(toDraft(one))),
  )
}
</script>

<template>
  <section v-opens class="opened" aria-label="Copy criteria from a rubric">
    <div class="row">
      <h2>Copy criteria from a rubric</h2>
      <NButton class="push" quaternary @click="emit('cancel')">Cancel</NButton>
    </div>
    <SelectField v-model="from" label="From the rubric">
      <option :value="null">Choose a rubric …</option>
      <option v-for="one in others" :key="one.id" :value="one.id">
        {{ one.title }} ({{ several(one.criteria, 'criterion', 'criteria') }})
      </option>
    </SelectField>
    <template v-if="from !== null">
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <NCheckboxGroup v-if="rubric" v-model:value="chosen"
        ><ul>
          <li v-for="one in rubric.criteria" :key="one.key">
            <NCheckbox :value="one.key" :aria-label="one.title"
              ><b>{{ one.title }}</b>
              <span class="small quiet push">{{
                one.levels.map((level) => level.name).join(' · ')
              }}</span></NCheckbox
            >
          </li>
        </ul></NCheckboxGroup
      >
      <div class="row">
        <NButton type="primary" :disabled="!chosen.length" @click="take">
          Add {{ several(chosen.length, 'criterion', 'criteria') }}
        </NButton>
        <NButton quaternary @click="chosen = rubric?.criteria.map((one) => one.key) ?? []">
          Choose all
        </NButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
.field {
  margin: 0;
  max-width: 420px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--line);
}
li label {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 6px 2px;
  cursor: pointer;
}
</style>
