<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { useRoute } from 'vue-router'
import { computed } from 'vue'
import { useClasses } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'

/** What somebody else did to one's things, until it is put away. */
const route = useRoute()
const { data: classes } = useClasses()
const { data: notices, refetch } = useQuery({
  key: keys.notices,
  query: () => ask(api.GET('/api/notices')),
  staleTime: 60_000,
})
const classId = computed(() => Number(route.params.classId) || classes.value?.[0]?.id)

async function see(id: number) {
  await ask(api.POST('/api/notices/{notice_id}/seen', { params: { path: { notice_id: id } } }))
  await refetch()
}
</script>

<template>
  <Notice v-for="one in notices" :key="one.id" clay line role="status">
    {{ one.text }}
    <RouterLink
      v-if="classId"
      :to="{ name: 'rubric', params: { classId, rubricId: one.rubric_id } }"
      >Open the rubric</RouterLink
    >
    ·
    <NButton class="link" text @click="see(one.id)">Dismiss</NButton>
  </Notice>
</template>
