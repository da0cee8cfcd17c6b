<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { ClassOut } from '@/api/schema'
import { useRefresh } from '@/shared/queries'

/** The way to the first marked student: five steps that tick themselves; gone once all are done. */
const props = defineProps<{ klass: ClassOut }>()
const away = useLocalStorage<number[]>('jade-ladder.first-steps.away', [])
const STEPS = [
  { key: 'students', route: 'students', text: 'Import the students' },
  { key: 'outcomes', route: 'outcomes', text: 'Add outcomes' },
  { key: 'rubric', route: 'rubrics', text: 'Make a rubric' },
  { key: 'task', route: 'tasks', text: 'Set a task' },
  { key: 'mark', route: 'marking', text: 'Mark a student' },
] as const
const steps = computed(() =>
  STEPS.map((step) => ({ ...step, done: props.klass.first_steps.includes(step.key) })),
)
const next = computed(() => steps.value.find((step) => !step.done))
const shown = computed(
  () => next.value && !props.klass.set_aside && !away.value.includes(props.klass.id),
)
const route = useRoute()
const { classes } = useRefresh()
// A step may have been taken on the page that is left, or at the desk.
watch([() => route.fullPath, () => props.klass.to_mark], () => {
  if (shown.value) void classes()
})
</script>

<template>
  <nav v-if="shown" class="first no-print" aria-label="First steps">
    <b class="small">First steps</b>
    <ol>
      <li v-for="step in steps" :key="step.key" :class="{ done: step.done }">
        <RouterLink
          :to="{ name: step.route, params: { classId: klass.id } }"
          :aria-current="step === next ? 'step' : undefined"
          ><span aria-hidden="true">{{ step.done ? '✓' : '○' }}</span> {{ step.text
          }}<span v-if="step.done" class="visually-hidden">, done</span></RouterLink
        >
      </li>
    </ol>
    <NButton class="push" size="small" quaternary @click="away = [...away, klass.id]"
      >Put away</NButton
    >
  </nav>
</template>

<style scoped>
.first {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  padding: 7px 20px;
  background: var(--card);
  border-bottom: 1px solid var(--line);
}
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  list-style: none;
  margin: 0;
  padding: 0;
}
a {
  display: inline-block;
  padding: 4px 0;
}
.done a {
  color: var(--quiet);
  text-decoration: none;
}
[aria-current] {
  font-weight: 650;
}
</style>
