<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { TaskOut } from '@/api/schema'
import FilePick from '@/design/controls/FilePick.vue'
import Tag from '@/design/controls/Tag.vue'
import { fileSize } from '@/design/format'
import UploadList from '@/shared/files/UploadList.vue'
import { useUploads } from '@/shared/files/useUploads'
import { useSending } from '@/shared/forms/useSending'
import { useRefresh } from '@/shared/queries'
import { handsIn } from '@/shared/kinds'

/** The files that come with a task. */
const props = defineProps<{ task: TaskOut }>()
const refresh = useRefresh().tasks
const { problem, busy, send } = useSending(refresh)
const starting = ref(false)
const uploads = useUploads('teacher', async (upload_id) => {
  const path = { params: { path: { task_id: props.task.id } } }
  const body = { upload_id, starting: starting.value }
  await ask(api.POST('/api/tasks/{task_id}/files', { ...path, body }))
  await refresh()
})
const detach = (file_id: number) =>
  send(() => ask(api.DELETE('/api/task-files/{file_id}', { params: { path: { file_id } } })))
</script>

<template>
  <section class="files" aria-label="Files of the task">
    <h3>Files</h3>
    <p v-if="!task.files.length" class="small quiet">
      Sheets, maps, templates: students find them with the task.
    </p>
    <ul v-else>
      <li v-for="file in task.files" :key="file.id" class="row">
        <a :href="`/api/task-files/${file.id}`" :download="file.name" class="name">{{
          file.name
        }}</a>
        <span class="small quiet nowrap">{{ fileSize(file.size) }}</span>
        <Tag v-if="file.starting">a copy for each</Tag>
        <NButton class="push" size="small" quaternary :disabled="busy" @click="detach(file.id)"
          >Remove<span class="visually-hidden"> {{ file.name }}</span></NButton
        >
      </li>
    </ul>
    <p v-if="problem" class="small clay" role="alert">{{ problem.message }}</p>
    <UploadList :all="uploads.all" @cancel="uploads.cancel" @again="uploads.again" />
    <FilePick label="Attach files" several @pick="(_, all) => uploads.add(all)" />
    <NCheckbox v-if="handsIn(task.kind)" v-model:checked="starting" class="copy"
      >Each student gets a copy to work in</NCheckbox
    >
  </section>
</template>

<style scoped>
.files {
  margin: 20px 0;
}
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  overflow-wrap: anywhere;
}
.copy {
  margin-top: 6px;
}
h3 {
  margin-bottom: 6px;
}
</style>
