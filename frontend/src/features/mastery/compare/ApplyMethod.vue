<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { MethodComparisonOut, MethodOut } from '@/api/schema'
import { longDay, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import MethodSince from '@/shared/methods/MethodSince.vue'
import { undoMethods } from '@/shared/methods/undoMethods'
import { useRefresh } from '@/shared/queries'

/** Applying the method that is looked at: to the class, or to the outcomes that are compared. */
const props = defineProps<{
  comparison: MethodComparisonOut
  method: MethodOut
  /** The outcomes that it can be applied to beside the class. */
  outcomes: MethodComparisonOut['outcomes']
  /** Whether it is what holds now. */
  holds: boolean
}>()
const refresh = useRefresh().outcomes
const { problem, busy, send } = useSending(refresh)
const since = ref<string | null>(null)
const codes = computed(() =>
  props.outcomes.length > 3
    ? several(props.outcomes.length, 'outcome')
    : props.outcomes.map((one) => one.code).join(', '),
)
const path = computed(() => ({ class_id: props.comparison.class_id }))
const body = computed(() => {
  const { kind, newest, last } = props.method
  return { kind, newest, last }
})
/** Outcomes with a method of their own keep it when the class has another. */
const kept = computed(() =>
  props.comparison.outcomes.filter((one) => one.own_method).map((one) => one.code),
)

async function apply(to: 'class' | 'outcomes') {
  const classId = props.comparison.class_id
  let entries: number[] = []
  const { name } = props.method
  const done = await send(async () => {
    const { version } = props.comparison
    const answer =
      to === 'class'
        ? api.PUT('/api/classes/{class_id}/method', {
            params: { path: path.value },
            body: { method: body.value, version, since: since.value || null },
          })
        : api.PUT('/api/classes/{class_id}/method/outcomes', {
            params: { path: path.value },
            body: {
              outcomes: props.outcomes.map(({ id, version }) => ({ id, version })),
              // The same as the class's is no method of its own.
              method: name === props.comparison.method.name && !single.value ? null : body.value,
              since: since.value || null,
            },
          })
    entries = (await ask(answer)).entries
  })
  if (!done) return
  if (!entries.length) return say(`${name} holds already`)
  const where = to === 'class' ? 'The class' : codes.value
  say(`${where}: ${name}${since.value ? ` from ${longDay(since.value)} on` : ''}`, {
    work: async () => {
      await undoMethods(classId, entries)
      await refresh()
    },
    undone: 'The method is as it was',
  })
}
const single = computed(() => props.comparison.outcomes.length === 1)
</script>

<template>
  <section aria-label="Apply">
    <h3>Apply {{ method.name }}</h3>
    <p v-if="holds" class="small">
      It holds now. Choose another one above, or move a slider, and see what it would change.
    </p>
    <MethodSince v-model="since" :problem="problem" />
    <FormProblem :problem="problem" />
    <p v-if="problem?.stale" class="small clay" role="alert">
      A method was changed meanwhile, perhaps in another tab. What you see now is up to date: look
      again, then apply.
    </p>
    <div class="row">
      <NButton
        v-if="outcomes.length"
        :type="holds ? 'default' : 'primary'"
        :disabled="busy"
        @click="apply('outcomes')"
        >Apply to {{ codes }}</NButton
      >
      <NButton
        :type="outcomes.length || holds ? 'default' : 'primary'"
        :disabled="busy"
        @click="apply('class')"
        >Apply to the class</NButton
      >
    </div>
    <p v-if="kept.length && !single" class="small quiet">
      {{ kept.join(', ') }} {{ kept.length === 1 ? 'keeps its' : 'keep their' }} own method (*) when
      it is applied to the class.
    </p>
  </section>
</template>

<style scoped>
section {
  margin-top: 12px;
}
</style>
