<script setup lang="ts">
import { NAlert } from 'naive-ui'
import type { Directive } from 'vue'

/**
 * Something told where it is. With `clay` a person has to act, `plum` tells of a teacher’s own judgement; with `line` it stands across a page.
 * Naive UI's is always an alert; what only tells is a note, or a `status`.
 */
defineProps<{
  clay?: boolean
  plum?: boolean
  line?: boolean
  role?: 'alert' | 'status' | 'group'
}>()
/** Before it is in the page, so that nothing is announced as what it is not. */
const setRole = (element: HTMLElement, { value }: { value: string }) =>
  element.setAttribute('role', value)
const vRole: Directive<HTMLElement, string> = { beforeMount: setRole, updated: setRole }
</script>

<template>
  <NAlert
    class="notice"
    :class="{ clay, plum, line }"
    :type="clay ? 'warning' : 'default'"
    :show-icon="false"
    v-role="role ?? 'note'"
  >
    <slot />
  </NAlert>
</template>
