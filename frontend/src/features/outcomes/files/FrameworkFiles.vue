<script setup lang="ts">
import Notice from '@/design/telling/Notice.vue'
import FilePick from '@/design/controls/FilePick.vue'
import { NButton, NCheckbox } from 'naive-ui'
import { ref } from 'vue'
import { api, ask, form } from '@/api/client'
import type { ComparisonOut, FrameworkOutcomeOut } from '@/api/schema'
import { several } from '@/design/format'
import { useSending } from '@/shared/forms/useSending'
import { useUndoImport } from './useUndoImport'
import { vOpens } from '@/design/focus'

/** Outcomes and rubrics as files: out, and in, held first against what is there. */
const props = defineProps<{ classId: number }>()
const emit = defineEmits<{ done: [] }>()
const file = ref<File | null>(null)
const found = ref<ComparisonOut | null>(null)
const retire = ref(false)
const { problem, busy, send } = useSending()
const importing = useUndoImport(() => props.classId)
const { imported, said } = importing

const options = () => ({
  params: { path: { class_id: props.classId } },
  // The generated body type is JSON's; the form is made by the serializer.
  body: {} as never,
  bodySerializer: () => form({ file: file.value, retire_gone: retire.value ? 'true' : '' }),
})

function choose(picked: File) {
  file.value = picked
  found.value = null
  importing.forget()
  void send(async () => {
    found.value = await ask(api.POST('/api/classes/{class_id}/framework/preview', options()))
  })
}

const importIt = () =>
  send(async () => {
    const { id } = await ask(api.POST('/api/classes/{class_id}/framework', options()))
    const title = found.value?.title
    found.value = null
    await importing.done(id, `${title} is imported.`)
  })

const undo = () =>
  send(async () => {
    await importing.undo()
    file.value = null
  })

const counts = (one: ComparisonOut) =>
  [
    `${one.new + one.joining} new here`,
    `${one.changed} changed`,
    ...(one.kept ? [`${one.kept} kept`] : []),
    `${one.same} the same`,
    `${one.gone} gone`,
  ].join(', ')

function groups(one: ComparisonOut) {
  const list = (
    title: string,
    count: number,
    shown: (FrameworkOutcomeOut & { was_title?: string; was_code?: string })[],
  ) => ({ title, count, shown })
  return [
    list('new', one.new, one.new_outcomes),
    list('known, and taught here from now on', one.joining, one.joining_outcomes),
    list('changed', one.changed, one.changed_outcomes),
    list('kept as a colleague or the school has them', one.kept, one.kept_outcomes),
    list('gone from the document', one.gone, one.gone_outcomes),
  ].filter((group) => group.count)
}
</script>

<template>
  <section v-opens class="opened" aria-label="Files">
    <div class="row">
      <h2>Files</h2>
      <NButton class="push" quaternary @click="emit('done')">Close</NButton>
    </div>
    <p>
      Export this class’s outcomes as
      <a :href="`/api/classes/${classId}/framework.json`" download>CASE 1.0 (JSON)</a>, with its
      rubrics, or as <a :href="`/api/classes/${classId}/outcomes.csv`" download>CSV</a>.
    </p>
    <FilePick
      label="Import a framework: a CASE 1.0 package (JSON)"
      accept=".json,application/json"
      :chosen="file?.name"
      @pick="choose"
    />
    <p v-if="busy" class="quiet" role="status">Reading …</p>
    <Notice v-if="problem" clay role="alert">
      {{ problem.message }}
      <span v-for="one in problem.errors.slice(1, 6)" :key="one.message" class="more">{{
        one.message
      }}</span>
    </Notice>
    <template v-if="found">
      <p>
        <b>{{ found.title }}</b><template v-if="found.creator"> by {{ found.creator }}</template
        >: {{ counts(found) }}.
      </p>
      <p v-for="note in found.notes" :key="note" class="small clay">{{ note }}.</p>
      <details v-for="group in groups(found)" :key="group.title" :open="group.count < 8">
        <summary>
          <b>{{ several(group.count, 'outcome') }}</b> {{ group.title }}
        </summary>
        <ul>
          <li v-for="one in group.shown" :key="one.code" class="small">
            <b>{{ one.code }}</b> {{ one.title
            }}<span v-if="one.was_title && one.was_title !== one.title" class="quiet">
              &nbsp;was “{{ one.was_title }}”</span
            >
          </li>
        </ul>
        <p v-if="group.shown.length < group.count" class="small quiet">
          The first {{ group.shown.length }} of {{ group.count }}.
        </p>
      </details>
      <p v-if="found.new_strands.length" class="small">
        New strands: {{ found.new_strands.join(', ') }}.
      </p>
      <p v-if="found.new_rubrics.length" class="small">
        New rubrics, as drafts: {{ found.new_rubrics.join(', ') }}.
      </p>
      <NCheckbox v-if="found.gone" v-model:checked="retire"
        >Retire {{ found.gone === 1 ? 'the one that is' : `the ${found.gone} that are` }} gone; the
        evidence stays</NCheckbox
      >
      <div class="row">
        <NButton type="primary" :disabled="busy" @click="importIt">Import</NButton>
        <span class="small quiet">It is one step, and can be undone.</span>
      </div>
    </template>
    <Notice v-if="said" role="status">
      {{ said }}
      <NButton v-if="imported" class="link" text :disabled="busy" @click="undo">
        Undo the import
      </NButton>
    </Notice>
  </section>
</template>

<style scoped>
.field {
  margin: 0;
}
.more {
  display: block;
}
summary {
  cursor: pointer;
  padding: 4px 0;
}
ul {
  list-style: none;
  margin: 0 0 4px;
  padding: 0 0 0 14px;
  max-height: 220px;
  overflow-y: auto;
}
li {
  padding: 3px 0;
  border-top: 1px solid var(--line);
}
</style>
