<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { NButton, NCheckbox } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, reactive, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { Audience, FilledOut, TaskOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'

/** A message to the students of a task; each is read before it goes. */
const props = defineProps<{ task: TaskOut }>()
const emit = defineEmits<{ done: [] }>()
const rubricId = computed(() => props.task.rubric?.id ?? 0)
const { data: rubric } = useQuery({
  key: () => keys.rubric(rubricId.value),
  query: () =>
    ask(api.GET('/api/rubrics/{rubric_id}', { params: { path: { rubric_id: rubricId.value } } })),
  enabled: () => rubricId.value > 0,
})
const { data: wall } = useQuery({
  key: () => keys.wall(props.task.class_id, null),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/mastery', {
        params: { path: { class_id: props.task.class_id } },
      }),
    ),
})
const body = reactive({
  audience: 'missing' as Audience,
  about: null as number | null,
  level: 1,
  subject: '{task}',
  text: 'Dear {given name},\n\n“{task}” is due {due}, and I have nothing of yours yet.',
})
const things = computed(() => {
  if (body.audience === 'below-on-criterion') {
    return (rubric.value?.criteria ?? []).map((one) => ({
      id: one.id,
      title: one.title,
      levels: one.levels.map((level) => level.name),
    }))
  }
  return (wall.value?.outcomes ?? []).map((one) => ({
    id: one.id,
    title: `${one.code} ${one.title}`,
    levels: wall
      .value!.scales.find((scale) => scale.id === one.scale_id)!
      .levels.map((level) => level.name),
  }))
})
const thing = computed(() => things.value.find((one) => one.id === body.about))
const below = computed(() => body.audience.startsWith('below'))
const sent = computed(() => ({
  audience: body.audience,
  subject: body.subject,
  text: body.text,
  about: below.value ? body.about : null,
  level: below.value ? body.level : null,
}))
const path = { params: { path: { task_id: props.task.id } } }
const filled = ref<FilledOut[]>([])
const left = ref<number[]>([])
const chosen = computed(() => filled.value.filter((one) => !left.value.includes(one.student_id)))
const looking = useSending()
const { problem: wrong } = looking
const { problem, busy, send } = useSending(useRefresh().tasks)

async function look() {
  if (below.value && !thing.value) {
    filled.value = []
    return
  }
  await looking.send(async () => {
    filled.value = await ask(
      api.POST('/api/tasks/{task_id}/messages/preview', { ...path, body: sent.value }),
    )
  })
}
watchDebounced(sent, look, { debounce: 300, immediate: true })
const leave = (id: number, on: boolean) =>
  (left.value = on ? left.value.filter((one) => one !== id) : [...left.value, id])

async function go() {
  let added = 0
  const student_ids = chosen.value.map((one) => one.student_id)
  const done = await send(async () => {
    added = (
      await ask(
        api.POST('/api/tasks/{task_id}/messages', {
          ...path,
          body: { ...sent.value, student_ids },
        }),
      )
    ).added
  })
  if (!done) return
  say(`Sent to ${several(added, 'student')}`)
  emit('done')
}
</script>

<template>
  <section v-opens class="opened message" aria-label="Message">
    <form novalidate @submit.prevent="go">
      <div class="row">
        <h2>Message</h2>
        <NButton class="push" quaternary @click="emit('done')">Close</NButton>
      </div>
      <FormProblem :problem="problem ?? wrong" />
      <SelectField v-model="body.audience" label="To">
        <option value="missing">those who have handed nothing in</option>
        <option value="all">all students of the task</option>
        <option v-if="task.rubric" value="below-on-criterion">
          those below a level on a criterion
        </option>
        <option value="below-on-outcome">those below a level on an outcome</option>
      </SelectField>
      <template v-if="below">
        <SelectField
          v-model="body.about"
          :label="body.audience === 'below-on-criterion' ? 'Criterion' : 'Outcome'"
          :error="(problem ?? wrong)?.at('about')"
        >
          <option :value="null">choose</option>
          <option v-for="one in things" :key="one.id" :value="one.id">{{ one.title }}</option>
        </SelectField>
        <SelectField
          v-if="thing"
          v-model="body.level"
          label="Below"
          :error="(problem ?? wrong)?.at('level')"
        >
          <option v-for="(name, at) in thing.levels.slice(1)" :key="at" :value="at + 1">
            {{ name }}
          </option>
        </SelectField>
      </template>
      <TextField
        v-model="body.subject"
        label="Subject"
        :error="(problem ?? wrong)?.at('subject')"
      />
      <TextField
        v-model="body.text"
        label="Text"
        hint="{given name}, {name}, {task} and {due} are filled in for each"
        multiline
        :rows="6"
        :error="(problem ?? wrong)?.at('text')"
      />
      <NButton type="primary" attr-type="submit" :disabled="busy || !chosen.length">
        Send to {{ several(chosen.length, 'student') }}
      </NButton>
    </form>
    <div class="each">
      <h3>As each gets it</h3>
      <Notice v-if="!filled.length">It would go to nobody.</Notice>
      <div v-for="(one, at) in filled" :key="one.student_id" class="one">
        <NCheckbox
          :checked="!left.includes(one.student_id)"
          :aria-label="`Send to ${one.name}`"
          @update:checked="leave(one.student_id, $event)"
        />
        <details :open="at === 0">
          <summary>{{ one.name }}</summary>
          <b>{{ one.subject }}</b>
          <p dir="auto">{{ one.text }}</p>
        </details>
      </div>
    </div>
  </section>
</template>

<style scoped>
.message {
  display: grid;
  grid-template-columns: minmax(260px, 1fr) minmax(0, 1fr);
  gap: 24px;
  margin-bottom: 16px;
}
.each {
  border-left: 1px solid var(--line);
  padding-left: 20px;
  max-height: 480px;
  overflow-y: auto;
}
.one {
  display: flex;
  gap: 10px;
  padding: 5px 0;
}
summary {
  cursor: pointer;
}
details p {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  .message {
    grid-template-columns: minmax(0, 1fr);
  }
  .each {
    border: 0;
    padding: 0;
  }
}
</style>
