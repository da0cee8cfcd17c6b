<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { BankRemarkOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import TextField from '@/design/controls/TextField.vue'
import { day, several } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import QueryState from '@/design/telling/QueryState.vue'
import { useSending } from '@/shared/forms/useSending'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import BankForm from './BankForm.vue'

/** One's remark bank: searched, edited, pinned, cleared of what is not wanted. */
const { timeZone } = useSession()
const wanted = ref('')
const search = refDebounced(wanted, 150)
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.bank(search.value),
  query: () => ask(api.GET('/api/bank', { params: { query: { search: search.value } } })),
  placeholderData: (before) => before,
})
const { problem, busy, send } = useSending(() => refetch())
/** The text that is being edited, or (0) added. */
const open = ref<number | null>(null)
const text = ref('')
const more = computed(() => (data.value ? data.value.count - data.value.remarks.length : 0))

function edit(one: BankRemarkOut | null) {
  open.value = one?.id ?? 0
  text.value = one?.text ?? ''
  problem.value = null
}

const change = (one: BankRemarkOut, body: { text: string; pinned: boolean }) =>
  ask(api.PUT('/api/bank/{remark_id}', { params: { path: { remark_id: one.id } }, body }))

async function save(one: BankRemarkOut | null) {
  const written = text.value
  const done = await send(() =>
    one
      ? change(one, { text: written, pinned: one.pinned })
      : ask(api.POST('/api/bank', { body: { text: written } })),
  )
  if (!done) return
  open.value = null
  say(one ? 'Saved' : 'Added to your bank')
}

const pin = (one: BankRemarkOut) => send(() => change(one, { text: one.text, pinned: !one.pinned }))

async function remove(one: BankRemarkOut) {
  const params = { path: { remark_id: one.id } }
  if (!(await send(() => ask(api.DELETE('/api/bank/{remark_id}', { params }))))) return
  open.value = null
  say('Deleted: it is not offered any more', {
    work: () => send(() => ask(api.POST('/api/bank/{remark_id}/restore', { params }))),
    undone: 'It is in your bank again',
  })
}
const deeds = (one: BankRemarkOut) => [
  { text: 'Edit', act: () => edit(one) },
  { text: one.pinned ? 'Unpin' : 'Pin: offer it first', act: () => pin(one) },
  { text: 'Delete', act: () => remove(one) },
]
const shortened = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}…` : text)
usePageTitle('Remark bank')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <div>
        <h1>Remark bank</h1>
        <p class="quiet small">
          What you write while marking comes here by itself, and is offered at the desk by
          <kbd>B</kbd> and a digit. Names of students become fields.
        </p>
      </div>
      <div class="actions">
        <NButton type="primary" @click="edit(null)">Add a text</NButton>
      </div>
    </div>
    <BankForm
      v-if="open === 0"
      v-model="text"
      does="Add"
      :problem="problem"
      :busy="busy"
      @save="save(null)"
      @cancel="open = null"
    />
    <TextField
      v-model="wanted"
      class="search"
      type="search"
      label="Search the bank"
      placeholder="Search the bank"
      bare
    />
    <FormProblem v-if="open === null" :problem="problem" />
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState
      v-if="data && !data.count"
      :title="search.trim() ? 'Nothing has these words' : 'Nothing here yet'"
    >
      {{
        search.trim()
          ? 'Search for fewer or other words.'
          : 'Write remarks at the marking desk: each of them is offered the next time.'
      }}
    </EmptyState>
    <ul v-else-if="data" aria-label="Texts of the bank">
      <li v-for="one in data.remarks" :key="one.id">
        <BankForm
          v-if="open === one.id"
          v-model="text"
          does="Save"
          hint="Remarks already written stay as they are."
          :problem="problem"
          :busy="busy"
          @save="save(one)"
          @cancel="open = null"
        />
        <template v-else>
          <div class="words">
            <p dir="auto">{{ one.text }}</p>
            <p class="small quiet">
              <template v-if="one.pinned"><b>pinned</b> · </template>
              {{ one.uses ? `used ${several(one.uses, 'time')}` : 'not used now'
              }}<template v-if="one.criteria.length"> on {{ one.criteria.join(', ') }}</template> ·
              last {{ day(one.used_at, timeZone) }}
            </p>
          </div>
          <Menu :label="`More on “${shortened(one.text)}”`" small :items="deeds(one)" />
        </template>
      </li>
    </ul>
    <p v-if="more > 0" class="small quiet">{{ several(more, 'more text') }}: search for them.</p>
  </div>
</template>

<style scoped>
.search {
  max-width: 420px;
  margin: 14px 0 4px;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: start;
  padding: 9px 0;
  border-bottom: 1px solid var(--line);
}
.words {
  flex: 1 1 320px;
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
