<script setup lang="ts">
import { say } from '@/design/telling/messages'
import DateField from '@/design/controls/DateField.vue'
import SelectField from '@/design/controls/SelectField.vue'
import Notice from '@/design/telling/Notice.vue'
import { useQuery } from '@pinia/colada'
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { useSession } from '@/shared/session'
import { api, ask } from '@/api/client'
import { keys, useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import type { TaskKind, TaskOut } from '@/api/schema'
import Field from '@/design/controls/Field.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import TextField from '@/design/controls/TextField.vue'
import { localInput } from '@/design/format'
import { useDraft } from '@/shared/forms/useDraft'
import { vOpens } from '@/design/focus'
import TaskWho from './TaskWho.vue'

/** Setting a task, or changing one. */
const props = defineProps<{ classId: number; task?: TaskOut }>()
const emit = defineEmits<{ done: [taskId?: number] }>()
const { timeZone } = useSession()
const { data: rubrics } = useQuery({ key: keys.rubrics, query: () => ask(api.GET('/api/rubrics')) })
const finals = computed(() =>
  (rubrics.value ?? []).filter(
    (one) => one.in_force && (!one.archived || one.id === props.task?.rubric_id),
  ),
)
const { problem, busy, send } = useSending(useRefresh().tasks)
const draft = useDraft('task', () => ({
  id: props.task?.id ?? `new in ${props.classId}`,
  version: props.task?.version ?? 0,
  body: {
    title: props.task?.title ?? '',
    instructions: props.task?.instructions ?? '',
    kind: props.task?.kind ?? ('handed-in' as TaskKind),
    rubric_id: props.task?.rubric_id ?? 0,
    due: localInput(props.task?.due_at ?? null, timeZone.value),
    closes: localInput(props.task?.closes_at ?? null, timeZone.value),
    points: props.task?.own_points ?? '',
    rubric_shown: props.task?.rubric_shown ?? true,
    late_per_day: props.task?.late_per_day ?? 0,
    late_most: props.task?.late_most ?? 100,
    practice: props.task?.practice ?? false,
    attempts_rule: props.task?.attempts_rule ?? ('latest' as TaskOut['attempts_rule']),
    category: props.task?.category ?? '',
    starting_text: props.task?.starting_text ?? '',
    student_ids: props.task?.student_ids ?? (null as number[] | null),
    seen: whenSeen(),
    set: localInput(props.task?.set_at ?? null, timeZone.value),
  },
}))
const body = draft.body

/** From when students see it: now or already, from a time on, or not yet. */
function whenSeen(): 'now' | 'at' | 'draft' {
  const { task } = props
  if (!task) return 'now'
  if (task.set_at === null) return 'draft'
  return Date.parse(task.set_at) > Date.now() ? 'at' : 'now'
}
const isSet = () => props.task?.set_at != null && Date.parse(props.task.set_at) <= Date.now()

/** How the rubric chosen fits what this class teaches. */
const { data: fit } = useQuery({
  key: () => keys.rubricFit(body.rubric_id, props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/rubrics/{rubric_id}/fit', {
        params: { path: { class_id: props.classId, rubric_id: body.rubric_id } },
      }),
    ),
  enabled: () => body.rubric_id > 0,
})
const foreign = computed(() => [...(fit.value?.matched ?? []), ...(fit.value?.unmatched ?? [])])

async function save() {
  const sent = {
    title: body.title,
    instructions: body.instructions,
    kind: body.kind,
    rubric_id: body.rubric_id,
    due_at: body.due || null,
    points: body.points.trim() || null,
    practice: body.practice,
    closes_at: body.closes || null,
    rubric_shown: body.rubric_shown,
    late_per_day: Number(body.late_per_day),
    late_most: Number(body.late_most),
    attempts_rule: body.attempts_rule,
    category: body.category,
    starting_text: body.starting_text,
    student_ids: body.student_ids,
    draft: body.seen === 'draft',
    set_at: body.seen === 'at' ? body.set || null : null,
  }
  const { task } = props
  await send(async () => {
    if (task) {
      await ask(
        api.PUT('/api/tasks/{task_id}', {
          params: { path: { task_id: task.id } },
          body: { ...sent, version: draft.version },
        }),
      )
      draft.saved()
      say('Saved')
      emit('done')
    } else {
      const { id } = await ask(
        api.POST('/api/classes/{class_id}/tasks', {
          params: { path: { class_id: props.classId } },
          body: sent,
        }),
      )
      draft.saved()
      emit('done', id)
    }
  })
}
</script>

<template>
  <form v-opens novalidate @submit.prevent="save">
    <div class="row head">
      <h2>{{ task ? 'Change the task' : 'New task' }}</h2>
      <NButton class="push" quaternary @click="emit('done')">Close</NButton>
    </div>
    <FormProblem :problem="problem" :draft="draft" />
    <TextField v-model="body.title" label="Title" :error="problem?.at('title')" />
    <TextField
      v-model="body.instructions"
      label="Instructions"
      hint="Students read them; Markdown for headings, lists and links"
      :error="problem?.at('instructions')"
      :rows="4"
      multiline
    />
    <TextField
      v-if="body.kind === 'handed-in'"
      v-model="body.starting_text"
      label="Starting text"
      hint="Each student begins with a copy of it; leave it empty for a blank page"
      :error="problem?.at('starting_text')"
      :rows="2"
      multiline
    />
    <SelectField v-model="body.kind" label="Kind" :error="problem?.at('kind')">
      <option value="handed-in">Handed in</option>
      <option value="observed">Observed in the room; nothing is handed in</option>
    </SelectField>
    <Field
      v-slot="f"
      label="Rubric"
      :error="problem?.at('rubric_id')"
      :hint="finals.length ? undefined : 'There is no final rubric yet: finalise one first.'"
    >
      <select
        :id="f.id"
        v-model="body.rubric_id"
        class="input"
        :aria-invalid="f.invalid"
        :aria-describedby="f.describedby"
      >
        <option :value="0" disabled>Choose a final rubric</option>
        <option v-for="one in finals" :key="one.id" :value="one.id">{{ one.title }}</option>
      </select>
    </Field>
    <Notice v-if="body.rubric_id && foreign.length" clay class="fit" role="status">
      This class does not teach {{ foreign.join(', ') }} of this rubric: marks say nothing about
      them here. Copy it in Rubrics to have one that fits this class.
    </Notice>
    <DateField
      v-model="body.due"
      label="Due"
      :hint="`By the clock of ${timeZone}. Leave it empty for no due time.`"
      :error="problem?.at('due_at')"
      time
    />
    <DateField
      v-if="body.kind === 'handed-in' && body.due"
      v-model="body.closes"
      label="Closes"
      hint="After it nothing is handed in any more. Leave it empty to take late work."
      :error="problem?.at('closes_at')"
      time
    />
    <div v-if="body.kind === 'handed-in' && body.due" class="two">
      <TextField
        v-model="body.late_per_day"
        label="Late costs, % a day"
        hint="Of the points, per started day"
        :error="problem?.at('late_per_day')"
        type="number"
        min="0"
        max="100"
      />
      <TextField
        v-if="Number(body.late_per_day)"
        v-model="body.late_most"
        label="At most, %"
        :error="problem?.at('late_most')"
        type="number"
        min="0"
        max="100"
      />
    </div>
    <TaskWho v-model="body.student_ids" :class-id="classId" :error="problem?.at('student_ids')" />
    <SelectField v-model="body.seen" label="Students see it" :error="problem?.at('draft')">
      <option value="now">{{ isSet() ? 'already' : 'at once' }}</option>
      <option value="at">from a time on</option>
      <option value="draft">not yet: it is a draft</option>
    </SelectField>
    <DateField
      v-if="body.seen === 'at'"
      v-model="body.set"
      label="From"
      :error="problem?.at('set_at')"
      time
    />
    <NCheckbox class="practice" v-model:checked="body.rubric_shown"
      >Students see the rubric beforehand</NCheckbox
    >
    <TextField
      v-model="body.points"
      label="Points"
      :hint="
        task
          ? `Now ${task.points}. Leave it empty to use the rubric’s highest points.`
          : 'Leave it empty to use the rubric’s highest points.'
      "
      :error="problem?.at('points')"
      short
      inputmode="decimal"
    />
    <SelectField
      v-if="body.kind === 'handed-in'"
      v-model="body.attempts_rule"
      label="Of several attempts counts"
    >
      <option value="latest">the latest</option>
      <option value="highest">the highest, outcome by outcome</option>
      <option value="mean">their mean</option>
      <option value="every">every one, as evidence of its own</option>
    </SelectField>
    <NCheckbox class="practice" v-model:checked="body.practice"
      >Practice: marked, but no evidence</NCheckbox
    >
    <TextField
      v-model="body.category"
      label="Category"
      hint="To find it by, such as Homework; leave it empty if you need none"
      :error="problem?.at('category')"
    />
    <NButton type="primary" attr-type="submit" :disabled="busy">
      {{ task ? 'Save' : body.seen === 'draft' ? 'Keep as a draft' : 'Set the task' }}
    </NButton>
  </form>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.fit {
  margin: -4px 0 12px;
}
.practice {
  display: flex;
  margin-bottom: 14px;
}
</style>
