<script setup lang="ts">
import { NAlert } from 'naive-ui'

/**
 * Something told where it is. With `clay` a person has to act; with `line` it stands across a page.
 * Naive UI's would always be an alert; what only tells has no role, or `status`.
 */
defineProps<{ clay?: boolean; line?: boolean; role?: 'alert' | 'status' | 'group' }>()
</script>

<template>
  <NAlert
    class="notice"
    :class="{ clay, line }"
    :type="clay ? 'warning' : 'default'"
    :show-icon="false"
    :role="role ?? 'note'"
  >
    <slot />
  </NAlert>
</template>
