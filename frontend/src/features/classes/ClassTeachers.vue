<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { ClassTeacherOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import SelectField from '@/design/controls/SelectField.vue'
import Tag from '@/design/controls/Tag.vue'
import { vOpens } from '@/design/focus'
import Notice from '@/design/telling/Notice.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'

/** Who teaches the class, of whom one is responsible: they say who else, and hand it over. */
const props = defineProps<{ classId: number }>()
const { data: session } = useSession()
const { data: teachers } = useQuery({
  key: () => keys.classTeachers(props.classId),
  query: () =>
    ask(
      api.GET('/api/classes/{class_id}/teachers', {
        params: { path: { class_id: props.classId } },
      }),
    ),
})
const adding = ref(false)
const { data: colleagues } = useQuery({
  key: keys.colleagues,
  query: () => ask(api.GET('/api/colleagues')),
  enabled: () => adding.value,
})
const others = computed(() =>
  (colleagues.value ?? []).filter((one) => !teachers.value?.some((other) => other.id === one.id)),
)
const { problem, send } = useSending(useRefresh().classes)
const me = computed(() => session.value?.person?.id)
const responsible = computed(() =>
  teachers.value?.some((one) => one.responsible && one.id === me.value),
)
const chosen = ref<number | null>(null)
const path = computed(() => ({ class_id: props.classId }))

const add = (personId: number) =>
  ask(
    api.POST('/api/classes/{class_id}/teachers', {
      params: { path: path.value },
      body: { person_id: personId },
    }),
  )
const remove = (personId: number) =>
  ask(
    api.DELETE('/api/classes/{class_id}/teachers/{person_id}', {
      params: { path: { ...path.value, person_id: personId } },
    }),
  )

async function addChosen() {
  const one = others.value.find((other) => other.id === chosen.value)
  if (!one || !(await send(() => add(one.id)))) return
  adding.value = false
  chosen.value = null
  say(`${one.name} teaches this class, too`)
}

async function takeOut(one: ClassTeacherOut) {
  if (!(await send(() => remove(one.id)))) return
  say(`${one.name} no longer teaches this class`, {
    work: async () => {
      await add(one.id)
      await refresh()
    },
    undone: `${one.name} teaches this class`,
  })
}

async function handOver(one: ClassTeacherOut) {
  const done = await send(() =>
    ask(
      api.PUT('/api/classes/{class_id}/teachers/responsible', {
        params: { path: path.value },
        body: { person_id: one.id },
      }),
    ),
  )
  if (done) say(`${one.name} is responsible for this class now; you still teach it`)
}
const refresh = useRefresh().classes

function items(one: ClassTeacherOut) {
  return [
    { text: 'Hand the class over', act: () => handOver(one) },
    { text: 'No longer teaches it', act: () => takeOut(one) },
  ]
}
</script>

<template>
  <section class="teachers">
    <h2>Teachers</h2>
    <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
    <ul>
      <li v-for="one in teachers ?? []" :key="one.id">
        {{ one.name }}
        <Tag v-if="one.responsible && (teachers?.length ?? 0) > 1">responsible</Tag>
        <Menu
          v-if="responsible && !one.responsible"
          class="push"
          :label="`More on ${one.name}`"
          small
          :items="items(one)"
        />
      </li>
    </ul>
    <form v-if="adding" v-opens class="row" @submit.prevent="addChosen">
      <SelectField v-model="chosen" label="Colleague" bare>
        <option :value="null">choose a colleague</option>
        <option v-for="one in others" :key="one.id" :value="one.id">{{ one.name }}</option>
      </SelectField>
      <NButton attr-type="submit" :disabled="chosen === null">Add</NButton>
      <NButton quaternary @click="adding = false">Cancel</NButton>
    </form>
    <NButton v-else-if="responsible" quaternary size="small" @click="adding = true"
      >Add a colleague</NButton
    >
  </section>
</template>

<style scoped>
.teachers {
  margin-top: 24px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 34px;
}
</style>
