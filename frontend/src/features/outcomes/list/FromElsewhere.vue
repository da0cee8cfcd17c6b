<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { useMessage } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import QueryState from '@/design/QueryState.vue'
import { several } from '@/design/format'
import { useSending } from '@/shared/useSending'
import { vOpens } from '@/design/focus'

/** Outcomes of one's other classes: teach the same ones here too, or copy them to be changed. */
const props = defineProps<{ classId: number }>()
const emit = defineEmits<{ done: [] }>()
const message = useMessage()
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
  message.success(
    `${several(chosen.value.length, 'outcome')} ${copied ? 'copied' : 'taught here too'}`,
  )
  emit('done')
}
</script>

<template>
  <section v-opens class="opened" aria-label="From another class">
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <p v-if="data && !data.length" class="quiet">
      Your other classes have no outcome that this class does not teach.
      <button class="link" type="button" @click="emit('done')">Close</button>
    </p>
    <template v-else-if="data">
      <p class="small quiet">
        Taught here too, an outcome is the same in both classes and evidence counts in both. A copy
        can be changed, and begins without evidence.
      </p>
      <ul>
        <li v-for="one in data" :key="one.id">
          <label
            ><input
              v-model="chosen"
              type="checkbox"
              :value="one.id"
              :aria-label="`${one.code} ${one.title}`"
            />
            <b>{{ one.code }}</b>
            <span>{{ one.title }}</span>
            <span class="small quiet push">{{ one.classes || 'in no class now' }}</span></label
          >
        </li>
      </ul>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <div class="row">
        <button class="btn main" type="button" :disabled="!chosen.length" @click="take(false)">
          Teach here too
        </button>
        <button class="btn" type="button" :disabled="!chosen.length" @click="take(true)">
          Copy to change
        </button>
        <button class="btn bare" type="button" @click="chosen = data.map((one) => one.id)">
          Choose all
        </button>
        <button class="btn bare push" type="button" @click="emit('done')">Cancel</button>
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
