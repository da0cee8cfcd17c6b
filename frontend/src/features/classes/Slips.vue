<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import type { SigningInOut, SlipOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import { longDay, several } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { useClass } from '@/shared/classes'
import { useSending } from '@/shared/forms/useSending'
import { useNameOrder } from '@/shared/order'
import { usePageTitle } from '@/shared/pageTitle'
import { keys } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** Slips to print, one for each student: a code by which they choose a name and a password. */
const props = defineProps<{ classId: number }>()
const { data: session, timeZone } = useSession()
const klass = useClass(() => props.classId)
const { data, error, isPending, refetch } = useQuery({
  key: () => keys.slips(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/slips', { params: { path: { class_id: props.classId } } }),
    ),
})
const { byName } = useNameOrder()
const students = computed(() => byName(data.value ?? []))
const chosen = ref<number[]>([])
watch(
  students,
  (now) =>
    (chosen.value = now.filter((one) => !one.joined && !one.slip_until).map((one) => one.id)),
  { immediate: true },
)
const mark = (id: number, on: boolean) =>
  (chosen.value = on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id))
/** Whom one makes a slip for; for the others one asks the teachers who took them first. */
const mine = computed(() => students.value.filter((one) => one.may_make))
const toAsk = computed(() => students.value.filter((one) => !one.may_make && !one.asked_at))
const all = computed({
  get: () => mine.value.length > 0 && chosen.value.length === mine.value.length,
  set: (on) => (chosen.value = on ? mine.value.map((one) => one.id) : []),
})
const again = computed(() =>
  students.value.filter((one) => chosen.value.includes(one.id) && (one.joined || one.slip_until)),
)
const slips = ref<SlipOut[]>([])
const { problem, busy, send } = useSending(async () => void refetch())

const make = () =>
  send(async () => {
    slips.value = await ask(
      api.POST('/api/classes/{class_id}/slips', {
        params: { path: { class_id: props.classId } },
        body: { student_ids: chosen.value },
      }),
    )
  })
async function askFor(who: SigningInOut[]) {
  const done = await send(() =>
    ask(
      api.POST('/api/classes/{class_id}/slips/requests', {
        params: { path: { class_id: props.classId } },
        body: { student_ids: who.map((one) => one.id) },
      }),
    ),
  )
  if (done) say(`Asked for ${several(who.length, 'slip')}: you are told when it is granted`)
}
/** The dark squares of a QR code as one path. */
const drawn = (rows: string[]) =>
  rows
    .flatMap((row, y) => [...row].map((dark, x) => (dark === '1' ? `M${x} ${y}h1v1h-1z` : '')))
    .join('')
const print = () => window.print()
const address = computed(() => slips.value[0]?.link?.split('/join')[0] ?? window.location.origin)
usePageTitle('Slips to sign in')
</script>

<template>
  <div class="page">
    <div class="page-head no-print">
      <h1>Slips to sign in</h1>
      <span class="quiet">{{ klass?.name }}</span>
      <div v-if="slips.length" class="actions">
        <NButton type="primary" @click="print">Print</NButton>
        <NButton quaternary @click="slips = []">Done</NButton>
      </div>
    </div>
    <template v-if="!slips.length">
      <QueryState v-if="!data" :error="error" :pending="isPending" @again="refetch()" />
      <form v-else class="no-print" novalidate @submit.prevent="make">
        <p class="lead">
          With the code of a slip a student chooses a name and a password of their own. It is good
          once, for 14 days; no e-mail is needed.
        </p>
        <FormProblem :problem="problem" />
        <Notice v-if="problem?.at('student_ids')" clay role="alert" class="gap">{{
          problem.at('student_ids')
        }}</Notice>
        <ul>
          <li class="row">
            <NCheckbox
              v-model:checked="all"
              :indeterminate="chosen.length > 0 && !all"
              aria-label="All students"
              ><b>All students</b></NCheckbox
            >
          </li>
          <li v-for="one in students" :key="one.id" class="row">
            <NCheckbox
              v-if="one.may_make"
              :checked="chosen.includes(one.id)"
              @update:checked="mark(one.id, $event)"
              >{{ one.name }}</NCheckbox
            >
            <span v-else class="to-ask">{{ one.name }}</span>
            <span v-if="one.sign_in_name" class="quiet small"
              >signs in as {{ one.sign_in_name }}</span
            >
            <Tag v-if="!one.joined && one.slip_until"
              >slip until {{ longDay(one.slip_until, timeZone) }}</Tag
            >
            <span v-else-if="!one.joined" class="quiet small">no slip yet</span>
            <Tag v-if="one.asked_at && one.may_make">agreed: you can make one</Tag>
            <Tag v-else-if="one.asked_at">asked on {{ longDay(one.asked_at, timeZone) }}</Tag>
            <NButton v-else-if="!one.may_make" class="link" text @click="askFor([one])"
              >Ask for a slip<span class="visually-hidden"> for {{ one.name }}</span></NButton
            >
          </li>
        </ul>
        <Notice v-if="mine.length < students.length" class="gap">
          Who has a password already gets a new slip from teachers of the class that took them
          first. Ask them here; once they agree, you make it yourself.
          <NButton v-if="toAsk.length > 1" class="link" text @click="askFor(toAsk)"
            >Ask for all {{ toAsk.length }}</NButton
          >
        </Notice>
        <Notice v-if="again.length" clay class="gap">
          {{ several(again.length, 'student') }} with a slip or a password already: earlier slips
          lead nowhere then, and who is signed in is signed out.
        </Notice>
        <NButton type="primary" attr-type="submit" :disabled="busy || !chosen.length">
          Make {{ several(chosen.length, 'slip') }}
        </NButton>
      </form>
    </template>
    <template v-else>
      <Notice clay class="no-print gap">
        These codes are shown once. Print them now, or make new ones later.
      </Notice>
      <div class="slips">
        <article v-for="slip in slips" :key="slip.id">
          <svg
            v-if="slip.squares.length"
            :viewBox="`-2 -2 ${slip.squares.length + 4} ${slip.squares.length + 4}`"
            role="img"
            :aria-label="`QR code of the slip of ${slip.name}`"
          >
            <rect
              x="-2"
              y="-2"
              :width="slip.squares.length + 4"
              :height="slip.squares.length + 4"
              fill="#fff"
            />
            <path :d="drawn(slip.squares)" fill="#000" shape-rendering="crispEdges" />
          </svg>
          <div>
            <h2>{{ slip.name }}</h2>
            <p class="small">{{ klass?.name }} · {{ session?.school }}</p>
            <p class="code">{{ slip.code }}</p>
            <p class="small">
              Point a camera here, or go to {{ address }} and choose “I have a slip with a code”.
              <template v-if="slip.sign_in_name">You sign in as {{ slip.sign_in_name }}.</template>
            </p>
          </div>
        </article>
      </div>
    </template>
  </div>
</template>

<style scoped>
.lead,
.gap {
  margin-bottom: 12px;
  max-width: 68ch;
}
ul {
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
  max-width: 640px;
}
/* Where the others have a box. */
.to-ask {
  padding-left: 24px;
}
li {
  min-height: 40px;
  border-bottom: 1px solid var(--line);
  flex-wrap: wrap;
}
.slips {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
}
article {
  display: flex;
  gap: 14px;
  padding: 14px;
  border: 1px dashed var(--edge);
  break-inside: avoid;
}
svg {
  width: 110px;
  height: 110px;
  flex: none;
}
.code {
  font:
    650 18px/1.4 ui-monospace,
    monospace;
  letter-spacing: 0.04em;
}
@media print {
  .slips {
    grid-template-columns: 1fr 1fr;
  }
  article {
    padding: 8mm 6mm;
  }
}
</style>
