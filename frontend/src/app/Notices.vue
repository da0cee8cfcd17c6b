<script setup lang="ts">
import FormProblem from '@/design/telling/FormProblem.vue'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { useRoute } from 'vue-router'
import { computed } from 'vue'
import { useClasses } from '@/shared/classes'
import { api, ask } from '@/api/client'
import type { NoticeOut } from '@/api/schema'
import { useSending } from '@/shared/forms/useSending'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** What somebody else did to one's things, until it is put away. */
const route = useRoute()
const { data: classes } = useClasses()
const { data: session } = useSession()
const { data: notices, refetch } = useQuery({
  key: keys.notices,
  query: () => ask(api.GET('/api/notices')),
  staleTime: 60_000,
  enabled: () => session.value?.person?.teacher === true,
})
const { problem, busy, send } = useSending(async () => void refetch())
const classId = computed(() => Number(route.params.classId) || classes.value?.[0]?.id)

async function see(id: number) {
  await ask(api.POST('/api/notices/{notice_id}/seen', { params: { path: { notice_id: id } } }))
  await refetch()
}

const ANSWERS = {
  'undo-joining': { press: 'Remove them again', done: 'Removed from the class again' },
  'grant-slips': { press: 'Agree', done: 'Agreed: they are told, and can make the slip' },
} as const

async function answer({ id, answer }: NoticeOut) {
  if (!answer) return
  const done = await send(() =>
    ask(api.POST(`/api/notices/{notice_id}/${answer}`, { params: { path: { notice_id: id } } })),
  )
  if (done) say(ANSWERS[answer].done)
}
</script>

<template>
  <FormProblem :problem="problem" />
  <Notice v-for="one in notices" :key="one.id" clay line role="status">
    {{ one.text }}
    <RouterLink
      v-if="classId && one.rubric_id"
      :to="{ name: 'rubric', params: { classId, rubricId: one.rubric_id } }"
      >Open the rubric</RouterLink
    >
    <RouterLink v-if="one.slips_of" :to="{ name: 'slips', params: { classId: one.slips_of } }"
      >Make the slip</RouterLink
    >
    <NButton v-if="one.answer" class="link" text :disabled="busy" @click="answer(one)">{{
      ANSWERS[one.answer].press
    }}</NButton>
    <template v-if="one.rubric_id || one.slips_of || one.answer"> · </template>
    <NButton class="link" text @click="see(one.id)">Dismiss</NButton>
  </Notice>
</template>
