<script setup lang="ts">
import Classes from '@/features/classes/Classes.vue'
import Today from '@/features/today/Today.vue'
import { useClasses } from '@/shared/classes'

/** What waits in all of one's classes, once there are any, and the classes themselves. */
const { data: classes } = useClasses()
</script>

<template>
  <div>
    <Today v-if="classes?.some((one) => !one.set_aside)" />
    <Classes :below="classes?.some((one) => !one.set_aside) ?? false" />
  </div>
</template>
