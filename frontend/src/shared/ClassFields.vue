<script setup lang="ts">
import DateField from '@/design/controls/DateField.vue'
import type { Problem } from '@/api/client'
import TextField from '@/design/controls/TextField.vue'

/** What a teacher says of a class. */
const body = defineModel<{ name: string; first_day: string; last_day: string }>({ required: true })
defineProps<{ problem: Problem | null }>()
</script>

<template>
  <TextField
    v-model="body.name"
    label="Name"
    :error="problem?.at('name')"
    placeholder="Map Room · Year 9"
  />
  <div class="two">
    <DateField v-model="body.first_day" label="First day" :error="problem?.at('first_day')" />
    <DateField v-model="body.last_day" label="Last day" :error="problem?.at('last_day')" />
  </div>
</template>
