<script setup lang="ts">
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { useOwnTasks } from '@/shared/student/ownTasks'
import BackCard from './BackCard.vue'

/** All that was handed back, the newest first. */
const { back, data, error, isPending, refetch } = useOwnTasks()
usePageTitle('Handed back')
</script>

<template>
  <div class="page narrow">
    <h1>Handed back</h1>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-else-if="!back.length" title="Nothing was handed back yet">
      When your teacher hands work back, its levels and remarks stand here.
    </EmptyState>
    <BackCard v-for="task in back" :key="task.id" :task="task" heading="h2" />
  </div>
</template>

<style scoped>
.narrow {
  max-width: 640px;
}
h1 {
  margin-bottom: 12px;
}
</style>
