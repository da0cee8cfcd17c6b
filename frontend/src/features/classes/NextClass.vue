<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import type { ClassOut } from '@/api/schema'
import { vOpens } from '@/design/focus'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import ClassFields from '@/shared/ClassFields.vue'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'

/** When a class is over: it goes on as another one, and is set aside. */
const props = defineProps<{ klass: ClassOut }>()
const router = useRouter()
const refresh = useRefresh().classes
const { problem, busy, send } = useSending(refresh)
const open = ref(false)
const body = reactive({
  name: '',
  first_day: '',
  last_day: '',
  students: true,
  tasks: false,
})

/** The same days a year later, to begin with. */
function begin() {
  const later = (iso: string) => `${Number(iso.slice(0, 4)) + 1}${iso.slice(4)}`
  body.name = `${props.klass.name}, next year`
  body.first_day = later(props.klass.first_day)
  body.last_day = later(props.klass.last_day)
  open.value = true
}

async function make() {
  let id = 0
  const done = await send(async () => {
    id = (
      await ask(
        api.POST('/api/classes/{class_id}/next', {
          params: { path: { class_id: props.klass.id } },
          body,
        }),
      )
    ).id
  })
  if (!done) return
  open.value = false
  await router.push({ name: 'students', params: { classId: id } })
  say(`${body.name} is made; evidence follows its students`)
}

const setAside = (aside: boolean) =>
  ask(
    api.PUT('/api/classes/{class_id}/aside', {
      params: { path: { class_id: props.klass.id } },
      body: { aside },
    }),
  )

async function putAside(aside: boolean) {
  const { name } = props.klass
  if (!(await send(() => setAside(aside)))) return
  say(aside ? `${name} is set aside, and can be looked at` : `${name} is taken up again`, {
    work: async () => {
      await setAside(!aside)
      await refresh()
    },
    undone: aside ? `${name} is taken up again` : `${name} is set aside`,
  })
}
</script>

<template>
  <section class="next">
    <h2>A year later</h2>
    <FormProblem :problem="problem" />
    <form v-if="open" v-opens novalidate @submit.prevent="make">
      <p class="small quiet">A class with the same outcomes, methods and scale.</p>
      <ClassFields v-model="body" :problem="problem" />
      <p>
        <NCheckbox v-model:checked="body.students">With the students who are in it now</NCheckbox>
      </p>
      <p>
        <NCheckbox v-model:checked="body.tasks"
          >With its tasks, due as many days later as the class begins</NCheckbox
        >
      </p>
      <div class="row">
        <NButton type="primary" attr-type="submit" :disabled="busy">Make the class</NButton>
        <NButton quaternary @click="open = false">Cancel</NButton>
      </div>
    </form>
    <div v-else class="row">
      <NButton @click="begin">Go on with this class</NButton>
      <NButton v-if="klass.set_aside" quaternary @click="putAside(false)">Take it up again</NButton>
      <NButton v-else quaternary @click="putAside(true)">Set it aside</NButton>
    </div>
  </section>
</template>

<style scoped>
.next {
  margin-top: 24px;
}
h2 {
  margin-bottom: 8px;
}
p {
  margin-bottom: 8px;
}
.row {
  flex-wrap: wrap;
}
</style>
