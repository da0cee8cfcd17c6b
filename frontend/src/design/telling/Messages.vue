<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { ref, watch } from 'vue'
import { neverLost } from '@/design/focus'
import { asProblem } from '@/api/client'
import { message, say, unsay, warn } from './messages'

/** The one message of the page, told to everyone. What can be undone stays until the next change. */
const busy = ref(false)
const going = useTimeoutFn(unsay, 8000, { immediate: false })
watch(message, (said) => {
  going.stop()
  if (said && !said.undo) going.start()
  // What was done may have taken away what had the focus, and what closes gives it back itself.
  if (said) setTimeout(neverLost, 100)
})

async function undo() {
  const way = message.value?.undo
  if (!way || busy.value) return
  busy.value = true
  try {
    await way.work()
    say(way.undone)
  } catch (error) {
    warn(`Not undone: ${asProblem(error).message}`)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="messages no-print" role="status">
    <p v-if="message" class="message" :class="{ 'is-clay': message.clay }">
      <span>{{ message.text }}</span>
      <NButton v-if="message.undo" size="small" :disabled="busy" @click="undo">Undo</NButton>
      <NButton size="small" quaternary aria-label="Close the message" @click="unsay">Close</NButton>
    </p>
  </div>
</template>

<style scoped>
.messages {
  position: fixed;
  inset: auto 0 14px;
  display: grid;
  justify-items: center;
  pointer-events: none;
  z-index: 3000;
}
.message {
  pointer-events: auto;
  display: flex;
  gap: 6px 10px;
  align-items: center;
  max-width: min(94vw, 640px);
  padding: 6px 8px 6px 14px;
  background: var(--card);
  border: 1px solid var(--edge);
  border-left: 3px solid var(--ink);
  border-radius: var(--r);
}
.message span {
  overflow-wrap: anywhere;
}
.is-clay {
  border-left-color: var(--clay);
}
</style>
