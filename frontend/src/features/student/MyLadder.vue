<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import DateField from '@/design/controls/DateField.vue'
import { dayInWords, several, today } from '@/design/format'
import EmptyState from '@/design/telling/EmptyState.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'
import LadderView from '@/shared/student/LadderView.vue'

/** Where I stand, class by class, by what was handed back. */
const { data: session, timeZone } = useSession()
const since = ref('')
const asked = computed(() => (/^\d{4}-\d\d-\d\d$/.test(since.value) ? since.value : null))
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.ownLadder(asked.value),
  query: () =>
    ask(
      api.GET('/api/my/ladder', { params: { query: asked.value ? { since: asked.value } : {} } }),
    ),
})
const print = () => window.print()
usePageTitle('My ladder')
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <h1>My ladder</h1>
      <div class="actions no-print">
        <DateField v-model="since" label="Compare with an earlier day" />
        <NButton quaternary @click="print">Print</NButton>
      </div>
    </div>
    <p class="print-only">
      {{ session?.person?.name }} · {{ session?.school }} · {{ dayInWords(today(timeZone)) }}
    </p>
    <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
    <EmptyState v-else-if="!data.length" title="You are in no class yet">
      Where you stand with each outcome of your classes is shown here.
    </EmptyState>
    <template v-for="one in data" :key="one.class_id">
      <h2>
        {{ one.class_name }}
        <span class="quiet small"
          >{{ one.mastered }} of {{ several(one.of, 'outcome') }} mastered<template
            v-if="one.mastered_before !== null"
            >, {{ one.mastered_before }} before</template
          ><template v-if="one.until"> · you have left this class</template></span
        >
      </h2>
      <p v-if="!one.rungs.length" class="quiet">This class teaches no outcomes yet.</p>
      <LadderView :ladder="one" own />
    </template>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
h2 {
  margin: 14px 0 10px;
}
h2 span {
  font-family: var(--body);
  font-weight: 400;
}
</style>
