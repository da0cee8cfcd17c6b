<script setup lang="ts">
import TextField from '@/design/controls/TextField.vue'
import Tag from '@/design/controls/Tag.vue'
import { NButton } from 'naive-ui'
import { useSession } from '@/shared/session'
import type { Problem } from '@/api/client'
import type { RubricOut } from '@/api/schema'
import { clock, several } from '@/design/format'
import type { SaveState } from './useRubric'

/** The head of a rubric: its title, whether it is final, saved or not, and what can be done. */
const title = defineModel<string>({ required: true })
defineProps<{
  rubric: RubricOut
  classId: number
  criteria: number
  state: SaveState
  problem: Problem | null
}>()
defineEmits<{ revise: []; copy: []; finalise: []; discard: []; effects: [] }>()
const { timeZone } = useSession()
</script>

<template>
  <div class="page-head">
    <h1 v-if="rubric.final">{{ rubric.title }}</h1>
    <h1 v-else class="title-heading">
      <TextField v-model="title" bare label="Title of the rubric" :error="problem?.at('title')" />
    </h1>
    <Tag>{{ rubric.final ? 'final' : 'draft' }}</Tag>
    <RouterLink
      v-if="rubric.number > 1"
      class="small"
      :to="{ name: 'revisions', params: { classId, rubricId: rubric.id } }"
      >revision {{ rubric.number }}</RouterLink
    >
    <span class="small quiet">
      {{ several(criteria, 'criterion', 'criteria') }} · {{ rubric.points }} points ·
      {{
        rubric.tasks.length
          ? `used by ${several(rubric.tasks.length, 'task')}`
          : 'used by no task yet'
      }}
    </span>
    <span
      class="small save"
      :class="{ clay: ['refused', 'gone', 'stale'].includes(state) }"
      role="status"
    >
      <template v-if="rubric.final" />
      <template v-else-if="state === 'saved'"
        >Saved {{ clock(rubric.changed_at, timeZone) }}</template
      >
      <template v-else-if="state === 'gone'"
        >Not saved: the server does not answer. Trying again …</template
      >
      <template v-else-if="state === 'refused'">Not saved: see below</template>
      <template v-else-if="state === 'stale'">Not saved: changed in another tab</template>
      <template v-else>Saving …</template>
    </span>
    <div class="actions">
      <template v-if="rubric.final">
        <NButton @click="$emit('copy')">Copy</NButton>
        <NButton @click="$emit('revise')">Change it</NButton>
      </template>
      <template v-else-if="rubric.number > 1">
        <NButton quaternary @click="$emit('discard')"> Discard the changes </NButton>
        <NButton type="primary" @click="$emit('effects')"> See what it does, and apply </NButton>
      </template>
      <NButton v-else type="primary" @click="$emit('finalise')">Finalise</NButton>
    </div>
  </div>
</template>

<style scoped>
.title-heading {
  flex: 0 1 340px;
}
.title-heading :deep(.n-input) {
  --n-border: 1px solid transparent !important;
  --n-color: transparent !important;
  font: inherit;
  margin-left: -13px;
}
.title-heading :deep(input) {
  font: inherit;
  height: 34px;
}
</style>
