<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { ResultOut } from '@/api/schema'
import FormProblem from '@/design/telling/FormProblem.vue'
import { fetchFile } from '@/shared/files/partFiles'
import { useSending } from '@/shared/forms/useSending'

/** Taking work along with its remarks: all parts with the numbers at their places. */
const props = defineProps<{
  result: ResultOut
  /** Where the server makes the PDF. */
  address: string
  /** What the PDF is called. */
  name: string
  /** It is what the page is for. */
  main?: boolean
}>()
const hasWork = computed(() => props.result.work.length > 0)
const { problem, busy, send } = useSending()

async function save() {
  await send(async () => keep(await fetchFile(props.address)))
}

function keep(made: Blob) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(made)
  link.download = `${props.name}.pdf`
  link.click()
  // The browser has begun to save it by then.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
const print = () => window.print()
</script>

<template>
  <div class="take-along no-print">
    <FormProblem :problem="problem" />
    <div class="row">
      <NButton
        v-if="hasWork"
        :type="main ? 'primary' : 'default'"
        :loading="busy"
        :disabled="busy"
        @click="save"
        >{{ busy ? 'Making the PDF…' : 'Save as PDF with remarks' }}</NButton
      >
      <NButton
        :type="main && !hasWork ? 'primary' : 'default'"
        :quaternary="!main || hasWork"
        @click="print"
        >{{ main && !hasWork ? 'Print or save as PDF' : 'Print this page' }}</NButton
      >
    </div>
  </div>
</template>

<style scoped>
.take-along {
  display: grid;
  gap: 8px;
}
.row {
  flex-wrap: wrap;
}
</style>
