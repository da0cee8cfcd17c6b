<script setup lang="ts">
import { vOpens } from '@/design/focus'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { CriterionOut, ScaleOut } from '@/api/schema'
import { several } from '@/design/format'
import LevelButtons from './LevelButtons.vue'
import type { Choice } from './seen'

/** All who are here and have nothing on a criterion yet, set to one level; then the exceptions. */
const props = defineProps<{
  criterion: CriterionOut
  scale: ScaleOut | undefined
  count: number
}>()
defineEmits<{ choose: [choice: Choice]; close: [] }>()
const whom = computed(() => several(props.count, 'student'))
</script>

<template>
  <section v-opens class="all" aria-label="Set everyone to one level">
    <p v-if="count">
      <b>{{ criterion.title }}</b>: set the {{ whom }} who {{ count === 1 ? 'is' : 'are' }} here and
      {{ count === 1 ? 'has' : 'have' }} nothing on it yet. Change the exceptions after it.
    </p>
    <p v-else>Everybody who is here has something on {{ criterion.title }} already.</p>
    <LevelButtons
      v-if="count"
      :criterion="criterion"
      :scale="scale"
      name="Everyone"
      :level-id="null"
      :half-way="false"
      :carried="false"
      :disabled="false"
      tall
      @choose="$emit('choose', $event)"
    />
    <NButton size="large" @click="$emit('close')">{{ count ? 'Leave it' : 'Close' }}</NButton>
  </section>
</template>

<style scoped>
.all {
  padding: 14px 16px;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
  display: grid;
  gap: 12px;
}
</style>
