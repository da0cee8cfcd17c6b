<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { HandingBackOut, TaskOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import ResultView from '@/shared/student/ResultView.vue'

/** Handing back: to whom, from when, with the total or not; beside it the student's own page. */
const props = defineProps<{ task: TaskOut; rows: HandingBackOut[] }>()
const emit = defineEmits<{ done: [] }>()
const { timeZone } = useSession()
const refresh = useRefresh().tasks
const { problem, busy, send } = useSending(refresh)
const ready = computed(() => props.rows.filter((one) => one.ready))
const body = reactive({
  chosen: [] as number[],
  at: '',
  total: props.task.total_shown,
})
watch(ready, (now) => (body.chosen = now.map((one) => one.student_id)), { immediate: true })
/** Whose page is shown. */
const shown = ref<number | null>(null)
const shownId = computed(() => shown.value ?? body.chosen[0] ?? props.rows[0]?.student_id ?? null)
const {
  data: result,
  error,
  isPending,
  refetch,
} = useQuery({
  key: () => keys.resultOfStudent(props.task.id, shownId.value ?? 0),
  query: () =>
    ask(
      api.GET('/api/tasks/{task_id}/students/{student_id}/result', {
        params: { path: { task_id: props.task.id, student_id: shownId.value ?? 0 } },
      }),
    ),
  enabled: () => shownId.value !== null,
})
const shownRow = computed(() => props.rows.find((one) => one.student_id === shownId.value))
const asSeen = computed(() => Boolean(shownRow.value?.seen_at && !shownRow.value.changed))
/** The total is left out where only levels are shown. */
const preview = computed(
  () =>
    result.value && (asSeen.value || body.total ? result.value : { ...result.value, total: null }),
)
const mark = (id: number, on: boolean) =>
  (body.chosen = on ? [...body.chosen, id] : body.chosen.filter((one) => one !== id))

async function handBack() {
  let added = 0
  const students = [...body.chosen]
  const done = await send(async () => {
    added = (
      await ask(
        api.POST('/api/tasks/{task_id}/handing-back', {
          params: { path: { task_id: props.task.id } },
          body: { student_ids: students, total_shown: body.total, visible_at: body.at || null },
        }),
      )
    ).added
  })
  if (!done) return
  say(`Handed back to ${several(added, 'student')}${body.at ? ', from the time you said' : ''}`, {
    work: async () => {
      await ask(
        api.POST('/api/tasks/{task_id}/taken-back', {
          params: { path: { task_id: props.task.id } },
          body: { student_ids: students },
        }),
      )
      await refresh()
    },
    undone: 'They are taken back',
  })
  emit('done')
}
</script>

<template>
  <section v-opens class="opened hand" aria-label="Hand back">
    <form novalidate @submit.prevent="handBack">
      <div class="row">
        <h2>Hand back</h2>
        <NButton class="push" quaternary @click="emit('done')">Close</NButton>
      </div>
      <FormProblem :problem="problem" />
      <Notice v-if="!ready.length">
        Nothing finished is left to hand back. Finish a mark at the desk first.
      </Notice>
      <fieldset v-else>
        <legend>To whom</legend>
        <div v-for="one in ready" :key="one.student_id" class="row who">
          <NCheckbox
            :checked="body.chosen.includes(one.student_id)"
            @update:checked="mark(one.student_id, $event)"
            >{{ one.name }}</NCheckbox
          >
          <span v-if="one.changed" class="small clay">changed since</span>
          <NButton class="push link" text size="small" @click="shown = one.student_id"
            >see<span class="visually-hidden"> what {{ one.name }} gets</span></NButton
          >
        </div>
      </fieldset>
      <NCheckbox v-model:checked="body.total" class="total"
        >With points and the total; without it they see levels and remarks</NCheckbox
      >
      <DateField
        v-model="body.at"
        label="From"
        :hint="`Leave it empty for now. By the clock of ${timeZone}.`"
        :error="problem?.at('visible_at')"
        time
      />
      <NButton type="primary" attr-type="submit" :disabled="busy || !body.chosen.length">
        Hand back to {{ several(body.chosen.length, 'student') }}
      </NButton>
    </form>
    <div class="page-of">
      <p v-if="shownRow" class="small signed">
        <b>The page of {{ shownRow.name }}</b
        >, {{ asSeen ? 'as they see it now' : 'as they would see it, handed back now' }}
      </p>
      <QueryState v-if="!result" :error="error" :pending="isPending" @again="refetch()" />
      <ResultView v-if="preview" :result="preview" :preview="!asSeen" teacher />
    </div>
  </section>
</template>

<style scoped>
.hand {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  gap: 24px;
  margin-bottom: 16px;
}
fieldset {
  border: 0;
  margin: 8px 0 12px;
  padding: 0;
  max-height: 320px;
  overflow-y: auto;
}
legend {
  font-weight: 650;
  padding: 0;
}
.total {
  display: flex;
  margin-bottom: 12px;
}
.who {
  padding: 4px 0;
}
.page-of {
  border-left: 1px solid var(--line);
  padding-left: 20px;
  min-width: 0;
}
.page-of :deep(.result) {
  grid-template-columns: minmax(0, 1fr);
}
.page-of :deep(.work) {
  order: 2;
}
.signed {
  background: var(--sunk);
  padding: 6px 10px;
  margin-bottom: 10px;
}
@media (max-width: 900px) {
  .hand {
    grid-template-columns: minmax(0, 1fr);
  }
  .page-of {
    border: 0;
    padding: 0;
  }
}
</style>
