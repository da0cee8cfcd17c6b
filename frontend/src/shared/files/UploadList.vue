<script setup lang="ts">
import { NButton } from 'naive-ui'
import Progress from '@/design/telling/Progress.vue'
import { fileSize } from '@/design/format'
import type { Uploading } from './useUploads'

/** Files on their way in, each with how far it has come and why it waits. */
defineProps<{ all: Uploading[] }>()
defineEmits<{ cancel: [one: Uploading]; again: [one: Uploading] }>()
const percent = (one: Uploading) => Math.floor((one.sent / Math.max(1, one.file.size)) * 100)
</script>

<template>
  <ul v-if="all.length" class="list" aria-label="Files on their way">
    <li v-for="one in all" :key="one.key">
      <div class="row">
        <b class="name">{{ one.file.name }}</b>
        <span class="small quiet nowrap">{{ fileSize(one.file.size) }}</span>
        <NButton v-if="one.problem" class="push" size="small" @click="$emit('again', one)"
          >Try again</NButton
        >
        <NButton
          :class="{ push: !one.problem }"
          size="small"
          quaternary
          @click="$emit('cancel', one)"
          >{{ one.problem ? 'Remove' : 'Cancel'
          }}<span class="visually-hidden"> {{ one.file.name }}</span></NButton
        >
      </div>
      <p v-if="one.problem" class="small clay" role="alert">{{ one.problem }}</p>
      <p v-else-if="one.waiting" class="small clay" role="status">{{ one.waiting }}</p>
      <div v-else class="row small quiet" role="status">
        <Progress :done="one.sent" :of="one.file.size" />
        {{ one.sent < one.file.size ? `${percent(one)}%` : 'Getting it ready …' }}
      </div>
    </li>
  </ul>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  overflow-wrap: anywhere;
  font-weight: 600;
}
</style>
