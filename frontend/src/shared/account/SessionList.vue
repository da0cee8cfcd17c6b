<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { OwnSessionOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime } from '@/design/format'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'

/** Where one is signed in, and signing out there. */
const props = defineProps<{
  sessions: OwnSessionOut[]
  end: (number: number) => Promise<unknown>
  refresh: () => Promise<unknown>
}>()
const { timeZone } = useSession()
const { send } = useSending(() => props.refresh())

async function leave(number: number) {
  if (await send(() => props.end(number))) say('You are signed out there')
}
</script>

<template>
  <section>
    <h2>Where you are signed in</h2>
    <ul>
      <li v-for="one in sessions" :key="one.id">
        <span class="where"
          >{{ one.device || 'A browser' }}
          <span class="quiet small">since {{ dayAndTime(one.made_at, timeZone) }}</span></span
        >
        <Tag v-if="one.this">here</Tag>
        <NButton
          v-else
          class="push"
          size="small"
          :aria-label="`Sign out of ${one.device || 'a browser'}`"
          @click="leave(one.id)"
          >Sign out there</NButton
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.where {
  flex: 1 1 0;
}
li {
  display: flex;
  gap: 6px 12px;
  align-items: center;
  min-height: 44px;
  border-bottom: 1px solid var(--line);
}
</style>
