<script setup lang="ts">
import { computed, useId } from 'vue'

/**
 * A labelled field with its error where it is; the slot gets the ids to wire up. With `bare` the
 * label is for the control to tell, as its `aria-label`.
 */
const props = defineProps<{ label: string; error?: string; hint?: string; bare?: boolean }>()
const id = useId()
const invalid = computed<'true' | undefined>(() => (props.error ? 'true' : undefined))
</script>

<template>
  <div class="field" :class="{ bare }">
    <label v-if="!bare" :for="id">{{ label }}</label>
    <slot :id="id" :invalid="invalid" :describedby="error || hint ? `${id}-note` : undefined" />
    <span v-if="error" :id="`${id}-note`" class="small clay" role="alert">{{ error }}</span>
    <span v-else-if="hint" :id="`${id}-note`" class="small quiet">{{ hint }}</span>
  </div>
</template>

<style scoped>
.bare {
  margin: 0;
}
</style>
