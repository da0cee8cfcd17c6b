<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { ClassOut, SampleSizeOut } from '@/api/schema'
import { several } from '@/design/format'
import Confirm from '@/design/telling/Confirm.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'

/** Says on every page of a sample class that it is one, and deletes it whole. */
const props = defineProps<{ klass: ClassOut }>()
const router = useRouter()
const { everything } = useRefresh()
const { problem, send } = useSending()
const size = ref<SampleSizeOut | null>(null)
const path = () => ({ params: { path: { class_id: props.klass.id } } })

const begin = () =>
  send(async () => {
    size.value = await ask(api.GET('/api/classes/{class_id}/sample', path()))
  })

async function remove() {
  const done = await send(() => ask(api.DELETE('/api/classes/{class_id}/sample', path())))
  size.value = null
  if (!done) return
  // First away from its pages, which would ask for what is gone.
  await router.push('/')
  await everything()
  say('The sample class is deleted')
}
</script>

<template>
  <div class="strip small">
    <p>
      <b>This is a sample class.</b> Try anything in it: nothing in it counts for your own classes.
    </p>
    <NButton class="push" size="small" @click="begin">Delete the sample class</NButton>
    <FormProblem :problem="problem" />
    <Confirm
      :show="size !== null"
      title="Delete the sample class?"
      action="Delete all of it"
      keep="Keep it"
      @confirm="remove"
      @cancel="size = null"
    >
      <template v-if="size">
        {{ klass.name }} is deleted with {{ several(size.students, 'student') }} who
        {{ size.students === 1 ? 'is' : 'are' }} in no other class,
        {{ several(size.tasks, 'task') }}, {{ several(size.marks, 'mark') }}, and the outcomes and
        rubric that came with it. What another class or rubric of yours uses is kept. This cannot be
        undone.
      </template>
    </Confirm>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  padding: 7px 20px;
  background: var(--sunk);
  border-bottom: 1px solid var(--line);
}
</style>
