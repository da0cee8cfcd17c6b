<script setup lang="ts">
import { NButton } from 'naive-ui'
import { watch } from 'vue'
import { api, ask } from '@/api/client'
import type { WorkPartOut } from '@/api/schema'
import FilePick from '@/design/controls/FilePick.vue'
import { dayAndTime } from '@/design/format'
import { say } from '@/design/telling/messages'
import AddLink from '@/shared/files/AddLink.vue'
import { sizeOfPart } from '@/shared/files/kinds'
import UploadList from '@/shared/files/UploadList.vue'
import { addressOf } from '@/shared/files/partFiles'
import { useUploads } from '@/shared/files/useUploads'
import { useSending } from '@/shared/forms/useSending'
import { useSession } from '@/shared/session'

/** Files and links, put in beside the text: kept on the server as they arrive, handed in with it. */
const props = defineProps<{ taskId: number; parts: WorkPartOut[] }>()
const emit = defineEmits<{ changed: []; busy: [busy: boolean] }>()
const { timeZone } = useSession()
const path = { params: { path: { task_id: props.taskId } } }
const uploads = useUploads('own', async (uploadId) => {
  await ask(
    api.POST('/api/my/tasks/{task_id}/draft/files', { ...path, body: { upload_id: uploadId } }),
  )
  emit('changed')
})
watch(uploads.busy, (busy) => emit('busy', busy))
const touch = window.matchMedia('(pointer: coarse)').matches
const { problem, busy, send } = useSending(async () => emit('changed'))

async function addLink(address: string) {
  await ask(api.POST('/api/my/tasks/{task_id}/draft/links', { ...path, body: { address } }))
  emit('changed')
}

async function remove(part: WorkPartOut) {
  const name = part.file_name ?? part.text
  let removed = { number: 0, until: '' }
  const done = await send(async () => {
    removed = await ask(
      api.DELETE('/api/my/work-parts/{part_id}', { params: { path: { part_id: part.id } } }),
    )
  })
  if (!done) return
  say(
    `${name} is removed. Until ${dayAndTime(removed.until, timeZone.value)} you can put it back`,
    {
      work: async () => {
        const path = { number: removed.number }
        await ask(api.POST('/api/my/removed-parts/{number}/put-back', { params: { path } }))
        emit('changed')
      },
      undone: `${name} is back`,
    },
  )
}
</script>

<template>
  <section class="put-in" aria-label="Files and links">
    <ul v-if="parts.length" class="list" aria-label="Put in">
      <li v-for="part in parts" :key="part.id" class="row">
        <a
          v-if="part.kind === 'file'"
          class="name"
          :href="addressOf(part, true)"
          :download="part.file_name"
          >{{ part.file_name }}</a
        >
        <span v-else class="name">{{ part.text }}</span>
        <span class="small quiet nowrap">{{
          part.kind === 'link' ? 'link' : sizeOfPart(part)
        }}</span>
        <NButton class="push" size="small" quaternary :disabled="busy" @click="remove(part)"
          >Remove<span class="visually-hidden"> {{ part.file_name ?? part.text }}</span></NButton
        >
      </li>
    </ul>
    <UploadList :all="uploads.all" @cancel="uploads.cancel" @again="uploads.again" />
    <div class="row ways">
      <FilePick label="Add files" several @pick="(_, all) => uploads.add(all)" />
      <FilePick
        v-if="touch"
        label="Take a photo"
        accept="image/*"
        camera
        @pick="(_, all) => uploads.add(all)"
      />
      <AddLink :add="addLink" />
      <span class="small quiet">Up to 100 MB each, 20 in all.</span>
    </div>
    <p v-if="problem" class="small clay" role="alert">
      {{ problem.message }}
    </p>
  </section>
</template>

<style scoped>
.put-in {
  margin-bottom: 16px;
}
.list {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  overflow-wrap: anywhere;
}
.ways {
  flex-wrap: wrap;
  gap: 8px 14px;
}
</style>
