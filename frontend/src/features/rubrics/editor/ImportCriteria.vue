<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import QueryState from '@/design/QueryState.vue'
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
      <button class="btn bare push" type="button" @click="emit('cancel')">Cancel</button>
    </div>
    <label class="field"
      ><span class="label">From the rubric</span>
      <select v-model="from" class="input">
        <option :value="null">Choose a rubric …</option>
        <option v-for="one in others" :key="one.id" :value="one.id">
          {{ one.title }} ({{ several(one.criteria, 'criterion', 'criteria') }})
        </option>
      </select>
    </label>
    <template v-if="from !== null">
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <ul v-if="rubric">
        <li v-for="one in rubric.criteria" :key="one.key">
          <label
            ><input v-model="chosen" type="checkbox" :value="one.key" :aria-label="one.title" />
            <b>{{ one.title }}</b>
            <span class="small quiet push">{{
              one.levels.map((level) => level.name).join(' · ')
            }}</span></label
          >
        </li>
      </ul>
      <div class="row">
        <button class="btn main" type="button" :disabled="!chosen.length" @click="take">
          Add {{ several(chosen.length, 'criterion', 'criteria') }}
        </button>
        <button
          class="btn bare"
          type="button"
          @click="chosen = rubric?.criteria.map((one) => one.key) ?? []"
        >
          Choose all
        </button>
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
