<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { MethodComparisonOut } from '@/api/schema'
import { several } from '@/design/format'

/** Which setting agrees best with the teacher's own judgements. */
defineProps<{ comparison: MethodComparisonOut }>()
defineEmits<{ look: [setting: number] }>()
</script>

<template>
  <section v-if="comparison.judgements" aria-label="Agreement with your judgements">
    <h3>Your own judgements</h3>
    <template v-if="comparison.agrees">
      <p class="small">
        <b>{{ comparison.agrees.best.join(', ') }}</b> agrees best: the same level in
        {{ comparison.agrees.equal }} of {{ comparison.agrees.judgements }} judgements<template
          v-if="comparison.agrees.equal !== comparison.agrees.present_equal"
          >, where the present method has {{ comparison.agrees.present_equal }}</template
        >.
        <template v-if="comparison.agrees.as_good.length">
          As good: {{ comparison.agrees.as_good.join(', ') }}.</template
        >
        <NButton class="link" text @click="$emit('look', comparison.agrees.setting)"
          >Look at it</NButton
        >
      </p>
      <p class="small quiet">
        Read it with care: one judges where one doubts the calculation, so these are the hard cases
        and not a fair sample.
      </p>
    </template>
    <p v-else class="small quiet">
      {{ several(comparison.judgements, 'judgement') }} with evidence; from
      {{ comparison.judgements_needed }} on it is said here which method agrees best with them.
    </p>
  </section>
</template>
