<script setup lang="ts">
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import { useQuery } from '@pinia/colada'
import { NButton, NCheckbox, NCheckboxGroup } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import QueryState from '@/design/telling/QueryState.vue'
import { several } from '@/design/format'
import { useSending } from '@/shared/forms/useSending'
import { vOpens } from '@/design/focus'

/** Outcomes of one's other classes: teach the same ones here too, or copy them to be changed. */
const props = defineProps<{ classId: number }>()
const emit = defineEmits<{ done: [] }>()
const { problem, send } = useSending(useRefresh().outcomes)
const params = computed(() => ({ path: { class_id: props.classId } }))
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.outcomesElsewhere(props.classId),
  query: () => ask(api.GET('/api/classes/{class_id}/outcomes/elsewhere', { params: params.value })),
})
const chosen = ref<number[]>([])

async function take(copied: boolean) {
  const options = { params: params.value, body: { outcome_ids: chosen.value } }
  const done = await send(() =>
    copied
      ? ask(api.POST('/api/classes/{class_id}/outcomes/copy', options))
      : ask(api.POST('/api/classes/{class_id}/outcomes/teach', options)),
  )
  if (!done) return
  say(`${several(chosen.value.length, 'outcome')} ${copied ? 'copied' : 'taught here too'}`)
  emit('done')
}
</script>

<template>
  <section v-opens class="opened" aria-label="From another class">
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <p v-if="data && !data.length" class="quiet">
      Your other classes have no outcome that this class does not teach.
      <NButton class="link" text @click="emit('done')">Close</NButton>
    </p>
    <template v-else-if="data">
      <p class="small quiet">
        Taught here too, an outcome is the same in both classes and evidence counts in both. A copy
        can be changed, and begins without evidence.
      </p>
      <NCheckboxGroup v-model:value="chosen"
        ><ul>
          <li v-for="one in data" :key="one.id">
            <NCheckbox :value="one.id" :aria-label="`${one.code} ${one.title}`"
              ><b>{{ one.code }}</b>
              <span>{{ one.title }}</span>
              <span class="small quiet push">{{
                one.classes || 'in no class now'
              }}</span></NCheckbox
            >
          </li>
        </ul></NCheckboxGroup
      >
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
      <div class="row">
        <NButton type="primary" :disabled="!chosen.length" @click="take(false)">
          Teach here too
        </NButton>
        <NButton :disabled="!chosen.length" @click="take(true)"> Copy to change </NButton>
        <NButton quaternary @click="chosen = data.map((one) => one.id)"> Choose all </NButton>
        <NButton class="push" quaternary @click="emit('done')">Cancel</NButton>
      </div>
    </template>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 300px;
  overflow-y: auto;
}
li {
  border-top: 1px solid var(--line);
}
label {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 6px 2px;
  cursor: pointer;
}
</style>
