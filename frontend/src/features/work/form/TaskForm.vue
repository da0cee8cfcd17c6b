<script setup lang="ts">
import { now } from '@/api/clock'
import { useQuery } from '@pinia/colada'
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { TaskOut } from '@/api/schema'
import DateField from '@/design/controls/DateField.vue'
import Field from '@/design/controls/Field.vue'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import ChooseSome from './ChooseSome.vue'
import ChangeEffects from './ChangeEffects.vue'
import TaskWho from './TaskWho.vue'
import { useTaskForm } from './useTaskForm'
import { handsIn, hasRubric } from '@/shared/kinds'

/** Setting a task, or changing one. */
const props = defineProps<{ classId: number; task?: TaskOut }>()
const emit = defineEmits<{ done: [taskId?: number] }>()
const { timeZone } = useSession()
const { data: rubrics } = useQuery({ key: keys.rubrics, query: () => ask(api.GET('/api/rubrics')) })
const finals = computed(() =>
  (rubrics.value ?? []).filter(
    (one) => one.in_force && (!one.archived || one.id === props.task?.rubric?.id),
  ),
)
const form = useTaskForm(props, (taskId) => emit('done', taskId))
const { draft, body, problem, busy, effects, criteria, foreign, save } = form
const KINDS = {
  'handed-in': undefined,
  observed: 'Nothing is handed in; the first choice notes the time',
  'other-evidence': 'A talk, a performance: you enter what you saw, as often as you like',
}
const isSet = () => props.task?.set_at != null && Date.parse(props.task.set_at) <= now()
const action = computed(() => {
  if (props.task) return effects.value ? 'Save, with these changes' : 'Save'
  return body.seen === 'draft' ? 'Keep as a draft' : 'Set the task'
})
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
      v-if="handsIn(body.kind)"
      v-model="body.starting_text"
      label="Starting text"
      hint="Each student begins with a copy of it; leave it empty for a blank page"
      :error="problem?.at('starting_text')"
      :rows="2"
      multiline
    />
    <SelectField
      v-model="body.kind"
      label="Kind"
      :hint="KINDS[body.kind]"
      :error="problem?.at('kind')"
    >
      <option value="handed-in">Handed in</option>
      <option value="observed">Observed in the room</option>
      <option value="other-evidence">Other evidence</option>
    </SelectField>
    <Field
      v-if="hasRubric(body.kind)"
      v-slot="f"
      label="Rubric"
      :error="problem?.at('rubric_id')"
      :hint="finals.length ? undefined : 'There is no final rubric yet: finalise one first.'"
    >
      <select
        :id="f.id"
        v-model="body.rubric_id"
        class="input"
        @change="body.criteria = null"
        :aria-invalid="f.invalid"
        :aria-describedby="f.describedby"
      >
        <option :value="0" disabled>Choose a final rubric</option>
        <option v-for="one in finals" :key="one.id" :value="one.id">{{ one.title }}</option>
      </select>
    </Field>
    <Notice
      v-if="hasRubric(body.kind) && body.rubric_id && foreign.length"
      clay
      class="fit"
      role="status"
    >
      This class does not teach {{ foreign.join(', ') }} of this rubric: marks say nothing about
      them here. Copy it in Rubrics to have one that fits this class.
    </Notice>
    <ChooseSome
      v-if="hasRubric(body.kind) && criteria.length > 1"
      v-model="body.criteria"
      legend="Criteria"
      :all="`All ${criteria.length} of the rubric`"
      some="Chosen criteria"
      :options="
        criteria.map((one) => ({
          key: one.key,
          label: `${one.title}${one.bonus ? ' (bonus)' : ''}`,
        }))
      "
      each
      :error="problem?.at('criteria')"
    />
    <DateField
      v-model="body.due"
      label="Due"
      :hint="`By the clock of ${timeZone}. Leave it empty for no due time.`"
      :error="problem?.at('due_at')"
      time
    />
    <DateField
      v-if="handsIn(body.kind) && body.due"
      v-model="body.closes"
      label="Closes"
      hint="After it nothing is handed in any more. Leave it empty to take late work."
      :error="problem?.at('closes_at')"
      time
    />
    <div v-if="handsIn(body.kind) && body.due" class="two">
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
      v-if="handsIn(body.kind)"
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
    <ChangeEffects v-if="effects" :effects="effects" />
    <NButton type="primary" attr-type="submit" :disabled="busy">{{ action }}</NButton>
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
