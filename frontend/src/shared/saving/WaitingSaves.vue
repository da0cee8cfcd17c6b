<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import { NButton } from 'naive-ui'
import { clock, several } from '@/design/format'
import { useSession } from '@/shared/session'
import { isTap, type Save } from './saves'
import { useSaves } from './useSaves'

/** What was marked and is not saved yet, and what a teacher has to decide: at the desk, where `mine`
 * are those of its task, and on every other page.
 */
const props = defineProps<{
  mine?: Save[]
  nameOf?: (studentId: number) => string
  /** Of a choice that was refused: what it would be, and what stands there now. */
  sides?: (save: Save) => { mine: string; there: string } | null
}>()
const emit = defineEmits<{ decide: [save: Save, again: boolean] }>()
const saves = useSaves()
const { timeZone } = useSession()
const when = (save: Save) =>
  save.madeAt ? `, marked at ${clock(save.madeAt, timeZone.value)},` : ''
</script>

<template>
  <Notice v-if="saves.state === 'gone'" clay :class="{ line: !props.mine }" role="alert">
    <b>Not saved: the server does not answer.</b>
    {{ several(saves.waiting.length, 'choice or remark', 'choices and remarks') }}
    {{ saves.waiting.length === 1 ? 'waits' : 'wait' }} in this browser and will be sent when it is
    back. You can go on.
  </Notice>
  <Notice
    v-for="save in props.mine ?? saves.refused"
    :key="save.id"
    clay
    :class="{ line: !props.mine }"
    role="alert"
  >
    {{ props.nameOf?.(save.studentId) ?? save.label }}{{ when(save) }} not saved:
    {{ save.refused?.message }}.
    <q v-if="save.kind === 'remark' && save.text">{{ save.text }}</q>
    <template v-if="props.sides?.(save)">
      {{ save.passage ? 'You wrote' : 'You chose' }} <b>{{ props.sides(save)?.mine }}</b>; there
      now: <b>{{ props.sides(save)?.there }}</b>.
    </template>
    {{ ' ' }}
    <template v-if="props.mine">
      <NButton class="link" text @click="emit('decide', save, false)">
        {{ save.refused?.stale ? 'Keep what is there now' : 'Let it go' }}
      </NButton>
      ·
      <NButton class="link" text @click="emit('decide', save, true)">
        {{ save.refused?.stale ? 'Use mine' : 'Try again' }}
      </NButton>
    </template>
    <RouterLink
      v-else-if="isTap(save)"
      :to="{
        name: 'observe',
        params: { classId: save.classId, taskId: save.taskId },
        query: { student: save.studentId },
      }"
      >Decide where it was observed</RouterLink
    >
    <RouterLink
      v-else
      :to="{
        name: 'desk',
        params: { classId: save.classId, taskId: save.taskId, studentId: save.studentId },
      }"
      >Decide at the desk</RouterLink
    >
  </Notice>
</template>
