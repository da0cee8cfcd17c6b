<script setup lang="ts">
import EmptyState from '@/design/EmptyState.vue'
import { usePageTitle } from '@/shared/pageTitle'
usePageTitle('Not found')
</script>

<template>
  <div class="page">
    <div class="page-head"><h1>Not found</h1></div>
    <EmptyState title="There is nothing at this address">
      The page may have moved, or belong to another teacher.
      <template #steps><RouterLink class="btn main" to="/">My classes</RouterLink></template>
    </EmptyState>
  </div>
</template>
