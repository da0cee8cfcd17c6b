<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref, useTemplateRef, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { OfferOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { useKeys } from '@/design/keys'
import QueryState from '@/design/telling/QueryState.vue'

/** What the bank offers for a criterion, or the whole: a digit puts it into the remark. */
const props = defineProps<{
  taskId: number
  studentId: number
  attempt: number
  criterionId: number | null
  levelId: number | null
  /** Counts up when the search is asked for. */
  searching: number
}>()
const emit = defineEmits<{ take: [text: string]; close: [] }>()
const NEARNESS = ['at this level', 'on this criterion', '']
const wanted = ref('')
const offers = ref<OfferOut[] | null>(null)
const problem = ref<Problem | null>(null)
const box = useTemplateRef('box')
let asked = 0

async function load() {
  const turn = ++asked
  const { taskId, studentId, attempt, criterionId, levelId } = props
  const path = { task_id: taskId, student_id: studentId, attempt }
  problem.value = null
  try {
    const found = await ask(
      api.POST('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}/bank', {
        params: { path },
        body: { criterion_id: criterionId, level_id: levelId, search: wanted.value },
      }),
    )
    if (turn === asked) offers.value = found
  } catch (error) {
    if (turn === asked) problem.value = asProblem(error)
  }
}
void load()
watch(offers, (_, before) => before || box.value?.scrollIntoView({ block: 'nearest' }), {
  flush: 'post',
})
watch(wanted, useDebounceFn(load, 120))
watch(
  () => [props.criterionId, props.levelId],
  () => load(),
)
watch(
  () => props.searching,
  () => box.value?.querySelector('input')?.focus(),
)

function choose(place: number): boolean {
  const offer = offers.value?.[place]
  if (offer) emit('take', offer.filled)
  return Boolean(offer)
}
useKeys('Remark bank', [
  {
    keys: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
    does: 'Put this text into the remark',
    // While it loads, a digit chooses no level by mistake.
    run: (key) => void choose(Number(key) - 1),
  },
  { keys: ['Escape'], does: 'Close the bank', run: () => emit('close') },
])
</script>

<template>
  <div ref="box" class="bank" role="group" aria-label="Remark bank">
    <div class="row head">
      <b class="small">From your bank</b>
      <TextField
        v-model="wanted"
        class="search"
        label="Search the bank"
        placeholder="Search"
        bare
        @keydown.enter.prevent="choose(0)"
        @keydown.esc.stop="$emit('close')"
      />
      <RouterLink class="small push" :to="{ name: 'bank' }">Edit the bank</RouterLink>
    </div>
    <QueryState v-if="!offers" :error="problem" :pending="!problem" @again="load" />
    <p v-else-if="!offers.length" class="small quiet" role="status">
      {{
        wanted.trim()
          ? 'Nothing in the bank has these words.'
          : 'Nothing yet: what you write comes here by itself.'
      }}
    </p>
    <ol v-else>
      <li v-for="(offer, place) in offers" :key="offer.id">
        <button type="button" @click="choose(place)">
          <kbd>{{ place + 1 }}</kbd>
          <span class="words" dir="auto">{{ offer.filled }}</span>
          <span class="small quiet nowrap"
            >{{ offer.pinned ? 'pinned ' : '' }}{{ NEARNESS[offer.nearness]
            }}{{ offer.uses > 1 ? ` ×${offer.uses}` : '' }}</span
          >
        </button>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.bank {
  margin-top: 8px;
  padding: 8px 10px;
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
}
.head {
  gap: 10px;
  flex-wrap: wrap;
}
.search {
  width: 130px;
}
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
button {
  width: 100%;
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: baseline;
  padding: 4px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  line-height: 1.35;
  text-align: start;
  cursor: pointer;
}
button:hover {
  background: var(--sunk);
}
.words {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  overflow-wrap: anywhere;
}
@media (pointer: coarse) {
  button {
    min-height: 44px;
  }
}
</style>
