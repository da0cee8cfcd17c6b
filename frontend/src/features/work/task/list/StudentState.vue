<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { HandingBackOut, StudentAtTaskOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { useSession } from '@/shared/session'
import { stateWords } from '@/shared/states'
import { seenWords } from '@/shared/student/handedBack'

/** Where a student stands with a task, what they see of their mark, and what they say of it. */
const props = defineProps<{ student: StudentAtTaskOut; back?: HandingBackOut }>()
defineEmits<{ answer: [] }>()
const { timeZone } = useSession()
const state = computed(() => stateWords(props.student.state, props.student.left))
const seen = computed(() => props.back && seenWords(props.back, timeZone.value))
</script>

<template>
  <span class="stands">
    <Tag :tone="state.clay ? 'clay' : undefined">{{ state.text }}</Tag>
    <span v-if="back && seen" class="small seen" :class="seen.clay ? 'clay' : 'quiet'">{{
      seen.text
    }}</span>
  </span>
  <template v-if="back && seen">
    <span v-if="back.granted" class="small quiet"> · another attempt is open</span>
    <p v-if="back.next_word" class="small" dir="auto">“{{ back.next_word }}”</p>
    <NButton
      v-if="back.wish !== null && back.granted === null"
      class="link clay"
      text
      size="small"
      @click="$emit('answer')"
      >asks for another attempt</NButton
    >
  </template>
</template>

<style scoped>
.stands {
  white-space: nowrap;
}
.seen {
  margin-left: 8px;
}
</style>
