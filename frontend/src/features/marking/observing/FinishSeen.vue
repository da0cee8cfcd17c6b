<script setup lang="ts">
import { vOpens } from '@/design/focus'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { ObservationOut } from '@/api/schema'
import { several } from '@/design/format'

/** What finishing does, before it does it. */
const props = defineProps<{ found: ObservationOut; left: number; absent: number; ready: boolean }>()
defineEmits<{ finish: []; close: [] }>()
const count = computed(() => props.found.unfinished)
</script>

<template>
  <section v-opens class="finish" aria-label="Finish what was seen">
    <p v-if="!ready">
      Some choices are not sent yet. Finishing needs the server: wait until all is saved.
    </p>
    <template v-else>
      <p>
        <b>{{ several(count, 'mark') }}</b> will count as evidence from now on. Criteria without a
        level are noted as not assessed.
      </p>
      <p v-if="left || absent" class="small quiet">
        <template v-if="left">{{ several(left, 'student') }} not seen yet </template>
        <template v-if="left && absent">and </template>
        <template v-if="absent">{{ absent }} absent </template>
        {{ left + absent === 1 ? 'stays' : 'stay' }} open. Nothing is handed back to students by
        this.
      </p>
    </template>
    <div class="row">
      <NButton size="large" type="primary" :disabled="!ready || !count" @click="$emit('finish')"
        >Finish {{ several(count, 'mark') }}</NButton
      >
      <NButton size="large" @click="$emit('close')">Not yet</NButton>
    </div>
  </section>
</template>

<style scoped>
.finish {
  position: sticky;
  bottom: 74px;
  z-index: 2;
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  background: var(--card);
  border-top: 2px solid var(--ink);
}
</style>
