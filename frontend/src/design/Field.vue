<script setup lang="ts">
import { useId } from 'vue'

/** A labelled field with its error where it is; the slot gets the ids to wire up. */
defineProps<{ label: string; error?: string; hint?: string }>()
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <slot
      :id="id"
      :invalid="(error ? 'true' : undefined) as 'true' | undefined"
      :describedby="error || hint ? `${id}-note` : undefined"
    />
    <span v-if="error" :id="`${id}-note`" class="small clay" role="alert">{{ error }}</span>
    <span v-else-if="hint" :id="`${id}-note`" class="small quiet">{{ hint }}</span>
  </div>
</template>
