<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { vOpens } from '@/design/focus'

/** Links by which people set their passwords: shown once, to be handed on. */
export interface Invitation {
  id: number
  name: string
  token: string
}

defineProps<{ links: Invitation[] }>()
defineEmits<{ close: [] }>()
const copied = ref<number | null>(null)
// After the hash a server never sees it, nor a log of addresses.
const address = (one: Invitation) => `${location.origin}/join#${one.token}`

async function copy(one: Invitation) {
  await navigator.clipboard?.writeText(address(one))
  copied.value = one.id
}
</script>

<template>
  <section v-opens class="opened" aria-label="Links to hand on">
    <div class="row">
      <h2>Links to hand on</h2>
      <NButton class="push" quaternary @click="$emit('close')">Done</NButton>
    </div>
    <p class="small quiet">
      Each sets a password once, within 14 days. They are shown only now; a new one can be made at
      any time.
    </p>
    <ul>
      <li v-for="one in links" :key="one.id">
        <b>{{ one.name }}</b>
        <code>{{ address(one) }}</code>
        <NButton size="small" :aria-label="`Copy the link of ${one.name}`" @click="copy(one)">{{
          copied === one.id ? 'Copied' : 'Copy'
        }}</NButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  border-top: 1px solid var(--line);
  padding: 8px 0;
}
code {
  flex: 1 1 260px;
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
