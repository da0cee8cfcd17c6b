<script setup lang="ts">
/** What goes here, and the first step. */
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <h2>{{ title }}</h2>
    <div class="quiet"><slot /></div>
    <div class="row steps"><slot name="steps" /></div>
  </div>
</template>

<style scoped>
.empty {
  border: 1px dashed var(--edge);
  border-radius: var(--r);
  padding: 22px 24px;
  max-width: 640px;
  display: grid;
  gap: 8px;
}
.steps {
  margin-top: 6px;
  flex-wrap: wrap;
}
</style>
