<script setup lang="ts">
import { computed, useId } from 'vue'

/** A labelled field with its error where it is; the slot gets the ids to wire up. */
const props = defineProps<{ label: string; error?: string; hint?: string }>()
const id = useId()
const invalid = computed<'true' | undefined>(() => (props.error ? 'true' : undefined))
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <slot :id="id" :invalid="invalid" :describedby="error || hint ? `${id}-note` : undefined" />
    <span v-if="error" :id="`${id}-note`" class="small clay" role="alert">{{ error }}</span>
    <span v-else-if="hint" :id="`${id}-note`" class="small quiet">{{ hint }}</span>
  </div>
</template>
