<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { SharedRubricLineOut } from '@/api/schema'
import { several } from '@/design/format'

/** A rubric that a colleague shares: to be copied, never changed. */
defineProps<{ rubric: SharedRubricLineOut }>()
defineEmits<{ copy: [] }>()
</script>

<template>
  <tr>
    <td>
      <b>{{ rubric.title }}</b>
    </td>
    <td>{{ rubric.owner }}</td>
    <td>{{ several(rubric.criteria, 'criterion', 'criteria') }}</td>
    <td class="num">
      <NButton class="link" text @click="$emit('copy')">
        Copy for this class<span class="visually-hidden"> {{ rubric.title }}</span>
      </NButton>
    </td>
  </tr>
</template>
