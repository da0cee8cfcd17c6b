<script setup lang="ts">
import { attemptWord } from '@/shared/states'
import type { OwnTaskOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { dayAndTime } from '@/design/format'
import { useSession } from '@/shared/session'

/** A piece of work that was handed back. */
defineProps<{ task: OwnTaskOut; heading?: 'h2' | 'h3' }>()
const { timeZone } = useSession()
</script>

<template>
  <article class="card row">
    <div>
      <component :is="heading ?? 'h3'" class="title">
        <RouterLink
          :to="{ name: 'my-result', params: { taskId: task.id, attempt: task.back_number ?? '' } }"
          >{{ task.title }}</RouterLink
        >
      </component>
      <p class="small quiet">
        {{ dayAndTime(task.back_at!, timeZone) }} · {{ task.class_name
        }}<template v-if="task.back_number! > 1">
          · {{ attemptWord(task.kind).toLowerCase() }} {{ task.back_number }}</template
        >
      </p>
    </div>
    <Tag v-if="!task.read_at" class="push">new</Tag>
  </article>
</template>

<style scoped>
.title {
  font-size: 14.5px;
}
.card {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 14px;
  margin-bottom: 8px;
}
</style>
