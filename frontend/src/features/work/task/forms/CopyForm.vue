<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { useQuery } from '@pinia/colada'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { CopiedTaskOut, TaskOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'

/** Copying a task into this class or another, as a draft. */
const props = defineProps<{ classId: number; task: TaskOut }>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const target = ref(props.classId)
const { data: classes } = useQuery({ key: keys.classes, query: () => ask(api.GET('/api/classes')) })
const { problem, busy, send } = useSending(useRefresh().tasks)

async function copy() {
  let made: CopiedTaskOut | null = null
  const path = { params: { path: { task_id: props.task.id } } }
  await send(async () => {
    made = await ask(
      api.POST('/api/tasks/{task_id}/copy', { ...path, body: { class_id: target.value } }),
    )
  })
  const there = made as CopiedTaskOut | null
  if (!there) return
  emit('done')
  await router.push({ name: 'task', params: { classId: target.value, taskId: there.id } })
  const { unmatched } = there
  say(
    unmatched.length
      ? `Copied as a draft. This class does not teach ${unmatched.join(', ')}: marks say nothing about them`
      : 'Copied as a draft: say when it is due, and set it',
  )
}
</script>

<template>
  <form v-opens class="notice" novalidate aria-label="Copy the task" @submit.prevent="copy">
    <p>
      The copy is a draft without times, with the files. In another class its rubric is aligned to
      the outcomes with the same codes.
    </p>
    <FormProblem :problem="problem" />
    <div class="row parts">
      <SelectField v-model="target" label="Into">
        <option
          v-for="one in (classes ?? []).filter((one) => !one.set_aside)"
          :key="one.id"
          :value="one.id"
        >
          {{ one.name }}{{ one.id === classId ? ' (this class)' : '' }}
        </option>
      </SelectField>
      <NButton type="primary" attr-type="submit" :disabled="busy">Copy as a draft</NButton>
      <NButton quaternary @click="emit('done')">Cancel</NButton>
    </div>
  </form>
</template>
