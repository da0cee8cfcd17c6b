<script setup lang="ts">
import { NButton } from 'naive-ui'
import { nextTick, ref, useTemplateRef } from 'vue'
import { limits } from '@/api/limits'
import type { MarkOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import TextField from '@/design/controls/TextField.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import type { useExemplars } from './useExemplars'

/** Which exemplar stands beside the work, and making this work one. */
const props = defineProps<{
  it: ReturnType<typeof useExemplars>
  studentId: number
  mark: MarkOut
}>()
const naming = ref(false)
const title = ref('')
const form = useTemplateRef('form')

function begin() {
  naming.value = true
  title.value = ''
  void nextTick(() => form.value?.querySelector('input')?.focus())
}
async function pin() {
  if (await props.it.pin(props.studentId, props.mark.attempt, title.value)) naming.value = false
}
</script>

<template>
  <div class="row exemplars">
    <SelectField
      v-if="it.all.value.length"
      :model-value="it.besideId.value"
      label="Exemplar beside"
      bare
      class="which"
      @update:model-value="it.show($event)"
    >
      <option :value="null">No exemplar beside</option>
      <option v-for="one in it.all.value" :key="one.id" :value="one.id">
        Exemplar: {{ one.title }}
      </option>
    </SelectField>
    <NButton v-if="it.beside.value" size="tiny" quaternary @click="it.unpin()"
      >Not an exemplar any more</NButton
    >
    <NButton v-if="mark.finished && !naming" size="tiny" quaternary @click="begin"
      >Make this an exemplar</NButton
    >
  </div>
  <form v-if="naming" ref="form" class="name" @submit.prevent="pin">
    <TextField
      v-model="title"
      label="What it is an example of"
      hint="Its levels are those of the finished mark. The title must not say whose it is."
      :error="it.problem.value?.at('title')"
      :maxlength="limits.ExemplarIn.title"
    />
    <FormProblem :problem="it.problem.value" />
    <div class="row">
      <NButton type="primary" attr-type="submit" size="small" :loading="it.busy.value"
        >Pin it</NButton
      >
      <NButton quaternary size="small" @click="naming = false">Cancel</NButton>
    </div>
  </form>
</template>

<style scoped>
.exemplars {
  flex-wrap: wrap;
  gap: 4px 10px;
  margin-top: 4px;
}
.which {
  max-width: 300px;
}
.name {
  display: grid;
  gap: 8px;
  max-width: 420px;
  margin: 8px 0;
}
</style>
