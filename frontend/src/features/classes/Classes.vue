<script setup lang="ts">
import SchoolLanguage from './SchoolLanguage.vue'
import Menu from '@/design/controls/Menu.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import EmptyState from '@/design/telling/EmptyState.vue'
import ClassFields from '@/shared/ClassFields.vue'
import FormProblem from '@/design/telling/FormProblem.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { longDay, several, today } from '@/design/format'
import { useClasses } from '@/shared/classes'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'
import { vOpens } from '@/design/focus'
import { usePageTitle } from '@/shared/pageTitle'

const props = defineProps<{
  /** It stands below what waits, which has the page's heading. */
  below: boolean
}>()
const router = useRouter()
const { data: session, timeZone } = useSession()
const { data: classes, error, isPending, refetch } = useClasses()
const making = ref(false)
const { problem, busy, send } = useSending(useRefresh().classes)
const body = reactive({ name: '', first_day: '', last_day: '' })
const hasSample = computed(() => classes.value?.some((one) => one.sample))
const active = computed(() => (classes.value ?? []).filter((one) => !one.set_aside))
const over = computed(() => (classes.value ?? []).filter((one) => one.set_aside))

function begin() {
  const now = today(timeZone.value)
  const year = Number(now.slice(0, 4))
  const autumn = Number(now.slice(5, 7)) >= 7
  body.first_day = autumn ? `${year}-08-01` : `${year - 1}-08-01`
  body.last_day = autumn ? `${year + 1}-07-31` : `${year}-07-31`
  making.value = true
}

async function make() {
  let classId = 0
  const done = await send(async () => {
    classId = (await ask(api.POST('/api/classes', { body }))).id
  })
  if (done) await router.push({ name: 'students', params: { classId } })
}
/** Make a class to look at, and open its wall. */
async function makeSample() {
  let classId = 0
  const done = await send(async () => {
    classId = (await ask(api.POST('/api/classes/sample'))).id
  })
  if (done) await router.push({ name: 'mastery', params: { classId } })
}
usePageTitle(() => (props.below ? 'Today' : 'Your classes'))
</script>

<template>
  <div class="page narrow">
    <div class="page-head">
      <component :is="below ? 'h2' : 'h1'">Your classes</component>
      <span v-if="session?.school" class="quiet">{{ session.school }}</span>
      <div class="actions">
        <NButton v-if="classes?.length" @click="begin">New class</NButton>
        <Menu
          v-if="classes?.length && !hasSample"
          label="More on classes"
          small
          :items="[{ text: 'Add a sample class to look at', act: makeSample }]"
        />
      </div>
    </div>
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <ul v-if="active.length" class="cards">
      <li v-for="one in active" :key="one.id">
        <h3>{{ one.name }} <Tag v-if="one.sample">sample</Tag></h3>
        <p class="small quiet">
          {{ several(one.students, 'student') }} · {{ longDay(one.first_day) }} to
          {{ longDay(one.last_day) }} · {{ one.method.name }}
        </p>
        <div class="row links">
          <LinkButton
            v-if="one.to_mark"
            :main="!below"
            :to="{ name: 'marking', params: { classId: one.id } }"
          >
            Mark {{ one.to_mark }}
          </LinkButton>
          <LinkButton :to="{ name: 'mastery', params: { classId: one.id } }"
            >Mastery wall</LinkButton
          >
          <LinkButton :to="{ name: 'tasks', params: { classId: one.id } }">Tasks</LinkButton>
          <LinkButton bare :to="{ name: 'students', params: { classId: one.id } }"
            >Class list</LinkButton
          >
        </div>
      </li>
    </ul>
    <EmptyState v-else-if="classes && !classes.length && !making" title="No class yet">
      A class is a group of students you teach for a year or a term. Make it first; its students
      come from a file, or pasted from a spreadsheet.
      <template #steps>
        <NButton type="primary" @click="begin">Make a class</NButton>
        <NButton :disabled="busy" @click="makeSample">Look at a sample class</NButton>
      </template>
    </EmptyState>
    <FormProblem v-if="!making" :problem="problem" />
    <form v-if="making" v-opens class="form" novalidate @submit.prevent="make">
      <h2>New class</h2>
      <FormProblem :problem="problem" />
      <ClassFields v-model="body" :problem="problem" />
      <div class="row">
        <NButton type="primary" attr-type="submit">Make the class</NButton>
        <NButton quaternary @click="making = false">Cancel</NButton>
      </div>
    </form>
    <section v-if="over.length" class="over">
      <h2>Set aside</h2>
      <ul>
        <li v-for="one in over" :key="one.id">
          <RouterLink :to="{ name: 'mastery', params: { classId: one.id } }">{{
            one.name
          }}</RouterLink>
          <span class="small quiet"
            >{{ longDay(one.first_day) }} to {{ longDay(one.last_day) }}</span
          >
        </li>
      </ul>
    </section>
    <SchoolLanguage v-if="session?.person?.administrator && classes?.length" />
  </div>
</template>

<style scoped>
.narrow {
  max-width: 900px;
}
.cards {
  list-style: none;
  margin: 0 0 20px;
  padding: 0;
  display: grid;
  gap: 12px;
}
.cards li {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 14px 16px;
}
.over {
  margin: 20px 0;
}
.over ul {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
.over li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--line);
}
.links {
  margin-top: 10px;
  flex-wrap: wrap;
}
.form {
  max-width: 480px;
}
.form h2 {
  margin: 8px 0;
}
</style>
