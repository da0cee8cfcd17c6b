<script setup lang="ts">
import { onScopeDispose, ref, watch } from 'vue'
import type { WorkPartOut } from '@/api/schema'
import { useSurface } from '@/shared/passages/useSurface'
import { fileOf } from './partFiles'

/** A document as HTML that the server has cleaned; its pictures are fetched by their number in it. */
const props = defineProps<{ part: WorkPartOut; own: boolean; html: string }>()
const sheet = ref<HTMLElement | null>(null)
const made: string[] = []
const free = () => made.splice(0).forEach((one) => URL.revokeObjectURL(one))

watch(
  [() => props.part.id, () => props.html, sheet],
  () => {
    free()
    for (const picture of sheet.value?.querySelectorAll<HTMLImageElement>('img') ?? []) {
      const number = Number(picture.dataset.picture)
      if (!Number.isInteger(number) || number < 1) continue
      picture.alt ||= `Picture ${number}`
      fileOf(props.part, props.own, `pictures/${number}`)
        .then((blob) => {
          const address = URL.createObjectURL(blob)
          made.push(address)
          picture.src = address
        })
        .catch(() => (picture.alt = `Picture ${number} cannot be fetched`))
    }
  },
  { flush: 'post', immediate: true },
)
onScopeDispose(free)
useSurface(
  () => props.part.id,
  sheet,
  () => props.html,
)
</script>

<template>
  <!-- The server has cleaned it: formats/files/document.py, formats/markdown.py. -->
  <!-- eslint-disable-next-line vue/no-v-html -->
  <article ref="sheet" class="document" dir="auto" v-html="html" />
</template>

<style scoped>
.document {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 22px 30px;
  font-size: 15px;
  line-height: 1.6;
  max-width: 72ch;
  overflow-wrap: anywhere;
}
.document :deep(p) {
  margin-bottom: 0.9em;
}
.document :deep(h2) {
  font-size: 19px;
  margin: 0.6em 0 0.4em;
}
.document :deep(h3) {
  font-size: 16.5px;
  margin: 0.8em 0 0.3em;
}
.document :deep(img) {
  max-width: 100%;
  height: auto;
}
.document :deep(table) {
  border-collapse: collapse;
  display: block;
  overflow-x: auto;
  margin-bottom: 0.9em;
}
.document :deep(td),
.document :deep(th) {
  border: 1px solid var(--line);
  padding: 3px 8px;
  vertical-align: top;
  text-align: start;
}
@media (max-width: 560px) {
  .document {
    padding: 14px 16px;
  }
}
</style>
