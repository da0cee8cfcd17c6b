<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'
import { api, ask, form } from '@/api/client'
import type { ComparisonOut, FrameworkOutcomeOut } from '@/api/schema'
import { several } from '@/design/format'
import { useSending } from '@/shared/useSending'
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
const chooser = useTemplateRef<HTMLInputElement>('chooser')

const options = () => ({
  params: { path: { class_id: props.classId } },
  // The generated body type is JSON's; the form is made by the serializer.
  body: {} as never,
  bodySerializer: () => form({ file: file.value, retire_gone: retire.value ? 'true' : '' }),
})

function choose(event: Event) {
  file.value = (event.target as HTMLInputElement).files?.[0] ?? null
  found.value = null
  importing.forget()
  if (!file.value) return
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
    if (chooser.value) chooser.value.value = ''
  })

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
    list('gone from the document', one.gone, one.gone_outcomes),
  ].filter((group) => group.count)
}
</script>

<template>
  <section v-opens class="opened" aria-label="Files">
    <div class="row">
      <h2>Files</h2>
      <button class="btn bare push" type="button" @click="emit('done')">Close</button>
    </div>
    <p>
      Export this class’s outcomes as
      <a :href="`/api/classes/${classId}/framework.json`" download>CASE 1.0 (JSON)</a>, with its
      rubrics, or as <a :href="`/api/classes/${classId}/outcomes.csv`" download>CSV</a>.
    </p>
    <label class="field">
      <span class="label">Import a framework: a CASE 1.0 package (JSON)</span>
      <input ref="chooser" type="file" accept=".json,application/json" @change="choose" />
    </label>
    <p v-if="busy" class="quiet" role="status">Reading …</p>
    <p v-if="problem" class="notice clay" role="alert">
      {{ problem.message }}
      <span v-for="one in problem.errors.slice(1, 6)" :key="one.message" class="more">{{
        one.message
      }}</span>
    </p>
    <template v-if="found">
      <p>
        <b>{{ found.title }}</b><template v-if="found.creator"> by {{ found.creator }}</template
        >: {{ found.new + found.joining }} new here, {{ found.changed }} changed,
        {{ found.same }} the same, {{ found.gone }} gone.
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
          and {{ group.count - group.shown.length }} more
        </p>
      </details>
      <p v-if="found.new_strands.length" class="small">
        New strands: {{ found.new_strands.slice(0, 12).join(', ')
        }}<template v-if="found.new_strands.length > 12">
          and {{ found.new_strands.length - 12 }} more</template
        >.
      </p>
      <p v-if="found.new_rubrics.length" class="small">
        New rubrics, as drafts: {{ found.new_rubrics.join(', ') }}.
      </p>
      <label v-if="found.gone" class="row"
        ><input v-model="retire" type="checkbox" /> Retire
        {{ found.gone === 1 ? 'the one that is' : `the ${found.gone} that are` }} gone; the evidence
        stays</label
      >
      <div class="row">
        <button class="btn main" type="button" :disabled="busy" @click="importIt">Import</button>
        <span class="small quiet">It is one step, and can be undone.</span>
      </div>
    </template>
    <p v-if="said" class="notice" role="status">
      {{ said }}
      <button v-if="imported" class="link" type="button" :disabled="busy" @click="undo">
        Undo the import
      </button>
    </p>
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
