<script setup lang="ts">
import LinkButton from '@/design/controls/LinkButton.vue'
import EmptyState from '@/design/telling/EmptyState.vue'
import { usePageTitle } from '@/shared/pageTitle'
usePageTitle('Not found')
</script>

<template>
  <div class="page">
    <div class="page-head"><h1>Not found</h1></div>
    <EmptyState title="There is nothing at this address">
      The page may have moved, or belong to another teacher.
      <template #steps><LinkButton main to="/">My classes</LinkButton></template>
    </EmptyState>
  </div>
</template>
