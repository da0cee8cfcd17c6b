<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import type { WorkPartOut } from '@/api/schema'
import { vOneStop } from '@/design/oneStop'
import { usePassageContext } from '@/shared/passages/passages'
import PartView from './PartView.vue'
import { nameOfPart, sizeOfPart } from './kinds'

/** The parts of work: one as it is; several as tabs beside each other. */
const props = defineProps<{ parts: WorkPartOut[]; own?: boolean }>()
const id = useId()
const chosen = ref<number | null>(null)
const part = computed(() => props.parts.find((one) => one.id === chosen.value) ?? props.parts[0])
watch(
  () => props.parts[0]?.id,
  () => (chosen.value = null),
)
const context = usePassageContext()
watch(
  () => context?.openPart.value,
  (wanted) => {
    if (wanted && props.parts.some((one) => one.id === wanted.id)) chosen.value = wanted.id
  },
)
const tab = (one: WorkPartOut) => `${id}-tab-${one.id}`
</script>

<template>
  <div v-if="part" class="parts">
    <div
      v-if="parts.length > 1"
      v-one-stop:row
      class="tabs"
      role="tablist"
      aria-label="Parts of the work"
    >
      <button
        v-for="one in parts"
        :id="tab(one)"
        :key="one.id"
        type="button"
        role="tab"
        :aria-selected="one.id === part.id"
        :aria-controls="`${id}-panel`"
        :data-stop="one.id === part.id ? '' : undefined"
        @click="chosen = one.id"
        @focus="chosen = one.id"
      >
        {{ nameOfPart(one) }} <span class="quiet">{{ sizeOfPart(one) }}</span>
      </button>
    </div>
    <div
      :id="`${id}-panel`"
      :role="parts.length > 1 ? 'tabpanel' : undefined"
      :aria-labelledby="parts.length > 1 ? tab(part) : undefined"
    >
      <PartView :part="part" :own="own" />
    </div>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-bottom: 10px;
}
button {
  font: inherit;
  font-size: 13px;
  color: var(--ink);
  border: 1px solid var(--edge);
  border-radius: var(--r);
  background: var(--card);
  padding: 4px 10px;
  cursor: pointer;
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
button[aria-selected='true'] {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
  font-weight: 700;
}
@media (pointer: coarse) {
  button {
    min-height: 44px;
  }
}
</style>
