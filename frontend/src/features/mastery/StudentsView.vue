<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { api, ask } from '@/api/client'
import LinkButton from '@/design/controls/LinkButton.vue'
import { dayInWords, several, today } from '@/design/format'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import LadderView from '@/shared/student/LadderView.vue'

/** The ladder that a student sees, for their teacher. */
const props = defineProps<{ classId: number; studentId: number }>()
const { timeZone } = useSession()
const path = () => ({
  params: { path: { class_id: props.classId, student_id: props.studentId } },
})
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.ladderOfStudent(props.classId, props.studentId, null),
  query: () => ask(api.GET('/api/classes/{class_id}/students/{student_id}/own-ladder', path())),
})
const { data: page } = useQuery({
  key: () => keys.studentPage(props.classId, props.studentId),
  query: () => ask(api.GET('/api/classes/{class_id}/mastery/{student_id}', path())),
})
const print = () => window.print()
usePageTitle(() => page.value && `What ${page.value.name} sees`)
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <h1>{{ page?.name }}</h1>
      <span v-if="data" class="quiet"
        >{{ data.ladder.mastered }} of {{ several(data.ladder.of, 'outcome') }} mastered</span
      >
      <div class="actions no-print">
        <LinkButton bare :to="{ name: 'student', params: { classId, studentId } }"
          >Your view</LinkButton
        >
        <NButton quaternary @click="print">Print</NButton>
      </div>
    </div>
    <p class="print-only">{{ dayInWords(today(timeZone)) }}</p>
    <Notice class="gap no-print">
      This is the ladder that {{ page?.name }} sees: it counts only what was handed back or shown to
      them.
    </Notice>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <h2 v-if="data" class="visually-hidden">Outcomes</h2>
    <LadderView v-if="data" :ladder="data.ladder" :otherwise="data.otherwise" />
  </div>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
.gap {
  margin-bottom: 14px;
}
</style>
