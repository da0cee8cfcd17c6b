<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { defineAsyncComponent, ref, watch } from 'vue'
import { asProblem, type Problem } from '@/api/client'
import type { ShownOut, WorkPartOut } from '@/api/schema'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { fileSize } from '@/design/format'
import { addressOf, fileOf, isFetched, isShown, shownOf } from './partFiles'
import DocumentView from './DocumentView.vue'
import PictureView from './PictureView.vue'
import { KINDS } from './kinds'
import { useSurface } from '@/shared/passages/useSurface'

/** A part of work, as it is read: nothing of it is run, and nothing is fetched from elsewhere. */
const props = defineProps<{ part: WorkPartOut; own?: boolean }>()
const AGAIN = 1500
const PdfView = defineAsyncComponent(() => import('./PdfView.vue'))
const shown = ref<ShownOut | null>(null)
const file = ref<Blob | null>(null)
const problem = ref<Problem | null>(null)
/** The server makes it ready: it is asked for again in a moment. */
const preparing = ref(false)
/** A picture that no browser shows. */
const broken = ref(false)
const later = useTimeoutFn(load, AGAIN, { immediate: false })

async function load() {
  const { part, own } = props
  later.stop()
  shown.value = null
  file.value = null
  problem.value = null
  try {
    if (isShown(part)) {
      const found = await shownOf(part, own)
      if (part.id === props.part.id) shown.value = found
    } else if (isFetched(part)) {
      const found = await fileOf(part, own)
      if (part.id === props.part.id) file.value = found
    }
    if (part.id === props.part.id) preparing.value = false
  } catch (error) {
    if (part.id !== props.part.id) return
    const found = asProblem(error)
    preparing.value = found.preparing
    if (found.preparing) later.start()
    else problem.value = found
  }
}
watch(
  () => props.part.id,
  () => {
    preparing.value = broken.value = false
    void load()
  },
  { immediate: true },
)
/** Each line a block of its own: what changes in one is laid out without the others. */
const linesOf = (text: string) => text.split(/(?<=\n)/)
const sheet = ref<HTMLElement | null>(null)
useSurface(
  () => props.part.id,
  sheet,
  () => [props.part.text, shown.value],
)
</script>

<template>
  <div class="part">
    <Notice v-if="part.replaced_at" class="gap"
      >This was replaced. It is kept for the remarks in it.</Notice
    >
    <article v-if="part.kind === 'text'" ref="sheet" :key="part.id" class="sheet plain" dir="auto">
      <span v-for="(line, at) in linesOf(part.text)" :key="at" class="line" dir="auto">{{
        line
      }}</span>
    </article>
    <article v-else-if="part.kind === 'link'" class="sheet">
      <p class="small quiet">A link; nothing of it is fetched here.</p>
      <a :href="part.text" target="_blank" rel="noopener noreferrer" class="address">{{
        part.text
      }}</a>
    </article>
    <template v-else>
      <p class="row small file">
        <b class="name">{{ part.file_name }}</b>
        <span class="quiet nowrap"
          >{{ KINDS[part.file_kind ?? 'other'] }}, {{ fileSize(part.size ?? 0) }}</span
        >
        <a class="push nowrap" :href="addressOf(part, !!own)" :download="part.file_name"
          >Download</a
        >
      </p>
      <Notice v-if="preparing" role="status"
        >This file is being prepared. It is shown here in a moment.</Notice
      >
      <QueryState
        v-else-if="(isShown(part) && !shown) || (isFetched(part) && !file)"
        :error="problem"
        :pending="!problem"
        @again="load"
      />
      <template v-else-if="shown">
        <Notice v-if="shown.problem" class="gap">{{ shown.problem }}</Notice>
        <Notice v-if="shown.notes.length" class="gap">
          <p v-for="note in shown.notes" :key="note">{{ note }}.</p>
        </Notice>
        <DocumentView v-if="shown.html" :part="part" :own="!!own" :html="shown.html" />
        <div
          v-else-if="shown.rows.length"
          ref="sheet"
          class="sheet scroll"
          tabindex="0"
          aria-label="Table"
        >
          <table>
            <tbody>
              <tr v-for="(row, at) in shown.rows" :key="at">
                <td v-for="(cell, place) in row" :key="place" dir="auto">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <article
          v-else-if="!shown.problem"
          ref="sheet"
          :key="part.id"
          class="sheet plain"
          dir="auto"
        >
          <span
            v-for="(line, at) in linesOf(shown.text || 'Nothing stands in this file.')"
            :key="at"
            class="line"
            dir="auto"
            >{{ line }}</span
          >
        </article>
      </template>
      <Notice v-else-if="broken">This picture cannot be shown here: download it.</Notice>
      <PictureView
        v-else-if="part.file_kind === 'picture'"
        :file="file!"
        :name="part.file_name!"
        :part-id="part.id"
        @broken="broken = true"
      />
      <PdfView
        v-else-if="part.file_kind === 'pdf'"
        :file="file!"
        :name="part.file_name!"
        :part-id="part.id"
      />
      <audio
        v-else-if="part.file_kind === 'audio'"
        controls
        preload="metadata"
        :src="addressOf(part, !!own)"
        :aria-label="part.file_name ?? 'Recording'"
      />
      <video
        v-else-if="part.file_kind === 'video'"
        controls
        preload="metadata"
        :src="addressOf(part, !!own)"
        :aria-label="part.file_name ?? 'Film'"
      />
      <Notice v-else>This kind of file is not shown here: download it to look at it.</Notice>
    </template>
  </div>
</template>

<style scoped>
.sheet {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 22px 30px;
  font-size: 15px;
  line-height: 1.6;
  max-width: 72ch;
  overflow-wrap: anywhere;
}
.plain {
  white-space: pre-wrap;
}
.line {
  display: block;
}
.file {
  margin-bottom: 8px;
  flex-wrap: wrap;
}
.name {
  overflow-wrap: anywhere;
}
.gap {
  margin-bottom: 10px;
  max-width: 72ch;
}
.scroll {
  overflow-x: auto;
  max-width: 100%;
  padding: 10px;
  font-size: 13.5px;
}
td {
  border: 1px solid var(--line);
  padding: 3px 8px;
  vertical-align: top;
}
table {
  border-collapse: collapse;
}
.address {
  overflow-wrap: anywhere;
}
audio,
video {
  width: 100%;
  max-width: 72ch;
  max-height: 70vh;
}
@media (max-width: 560px) {
  .sheet {
    padding: 14px 16px;
  }
}
</style>
