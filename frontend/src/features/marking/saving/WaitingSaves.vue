<script setup lang="ts">
import { several } from '@/design/format'
import { useSaves } from './useSaves'

/** Away from the desk: what was marked and is not saved yet, and what a teacher has to decide. */
const saves = useSaves()
</script>

<template>
  <p v-if="saves.state === 'gone'" class="notice clay line" role="alert">
    <b>The server does not answer.</b>
    {{ several(saves.waiting.length, 'choice or remark', 'choices and remarks') }} from the marking
    desk {{ saves.waiting.length === 1 ? 'waits' : 'wait' }} in this browser and will be sent when
    it is back.
  </p>
  <p v-for="save in saves.refused" :key="save.id" class="notice clay line" role="alert">
    Something you marked was not saved: {{ save.refused?.message }}.
    <RouterLink
      :to="{
        name: 'desk',
        params: { classId: save.classId, taskId: save.taskId, studentId: save.studentId },
      }"
      >Decide at the desk</RouterLink
    >
  </p>
</template>
