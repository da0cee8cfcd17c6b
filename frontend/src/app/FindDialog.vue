<script setup lang="ts">
import Tag from '@/design/controls/Tag.vue'
import { useQuery } from '@pinia/colada'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'
import { api, ask } from '@/api/client'
import { keys } from '@/shared/queries'
import type { FoundOut } from '@/api/schema'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { useNoting } from '@/shared/notes/useNoting'
import { sheetPage, type SheetKind } from '@/shared/sheets'
import Modal from '@/design/telling/Modal.vue'
import { searcher } from '@/design/search'

const show = defineModel<boolean>('show', { required: true })
const router = useRouter()
const route = useRoute()
const { data } = useQuery({ key: keys.find, query: () => ask(api.GET('/api/find')) })
const wanted = ref('')
const at = ref(0)
const list = ref<HTMLElement | null>(null)
const MOST = 40
const NOTE = 'note'
/** What can be handed out of a class, by the detail of its command. */
const SHEETS: Record<string, SheetKind> = {
  'class-list': 'class-list',
  'mastery-sheet': 'mastery',
  'coverage-sheet': 'coverage',
}

const here = computed(() => Number(route.params.classId) || null)
const noting = useNoting()
const commands = computed<FoundOut[]>(() =>
  here.value === null
    ? []
    : [
        ...['Outcomes', 'Rubrics', 'Tasks', 'Marking', 'Mastery', 'Students'].map((title) => ({
          title: `Go to ${title.toLowerCase()}`,
          detail: title.toLowerCase(),
        })),
        { title: 'Write a note of what you saw', detail: NOTE },
        { title: 'Print or export the class list', detail: 'class-list' },
        { title: 'Print or export the mastery wall', detail: 'mastery-sheet' },
        { title: 'Print or export what is assessed when', detail: 'coverage-sheet' },
      ].map((one, id) => ({
        ...one,
        also: '',
        kind: 'command' as FoundOut['kind'],
        id,
        class_id: here.value,
      })),
)
const found = computed(() => {
  const has = searcher(wanted.value)
  return [...(data.value ?? []), ...commands.value]
    .filter((one) =>
      // A student is not found by the name of a class: all of it would be.
      one.kind === 'student' ? has(one.title, one.also) : has(one.title, one.detail, one.kind),
    )
    .sort((a, b) => Number(b.class_id === here.value) - Number(a.class_id === here.value))
    .slice(0, MOST)
})
watch(wanted, () => (at.value = 0))

function place(one: FoundOut): RouteLocationRaw {
  const classId =
    one.class_id ?? here.value ?? data.value?.find((other) => other.class_id)?.class_id ?? 0
  if ((one.kind as string) === 'command') {
    const sheet = SHEETS[one.detail]
    return sheet ? sheetPage(sheet, classId) : { name: one.detail, params: { classId } }
  }
  switch (one.kind) {
    case 'student':
      return { name: 'student', params: { classId, studentId: one.id } }
    case 'outcome':
      return { name: 'outcomes', params: { classId }, query: { outcome: one.id } }
    case 'rubric':
      return { name: 'rubric', params: { classId, rubricId: one.id } }
    case 'task':
      return { name: 'task', params: { classId, taskId: one.id } }
  }
}

/** Write a note: of the student that is found, or of whom one chooses then. */
function note(one: FoundOut | undefined) {
  if (!one) return
  const isStudent = one.kind === 'student'
  show.value = false
  noting.open(one.class_id ?? here.value ?? 0, isStudent ? [one.id] : [])
}

function go(one: FoundOut | undefined) {
  if (!one) return
  if (one.detail === NOTE) return note(one)
  show.value = false
  void router.push(place(one))
}

function step(by: number) {
  at.value = Math.max(0, Math.min(found.value.length - 1, at.value + by))
  void nextTick(() => list.value?.children[at.value]?.scrollIntoView({ block: 'nearest' }))
}
</script>

<template>
  <Modal v-model:show="show" title="Find anything" :width="620">
    <TextField
      v-model="wanted"
      v-opens
      bare
      label="A student, outcome, rubric, task or command"
      role="combobox"
      aria-expanded="true"
      aria-controls="found"
      :aria-activedescendant="found.length ? `found-${at}` : undefined"
      placeholder="A student, outcome, rubric, task or command"
      autofocus
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
      @keydown.enter.exact.prevent="go(found[at])"
      @keydown.shift.enter.prevent="found[at]?.kind === 'student' && note(found[at])"
    />
    <p v-if="!found.length" class="quiet none" role="status">Nothing has these words in it.</p>
    <ul id="found" ref="list" role="listbox" tabindex="-1" aria-label="Found">
      <li
        v-for="(one, index) in found"
        :id="`found-${index}`"
        :key="`${one.kind} ${one.id} ${one.class_id}`"
        role="option"
        :aria-selected="index === at"
        :class="{ on: index === at }"
        @click="go(one)"
        @mousemove="at = index"
      >
        <Tag>{{ one.kind }}</Tag>
        <span class="title">{{ one.title }}</span>
        <span class="quiet small push">{{ one.detail }}</span>
      </li>
    </ul>
    <p class="small quiet">
      <kbd>↑</kbd> <kbd>↓</kbd> choose · <kbd>Enter</kbd> go ·
      <template v-if="found[at]?.kind === 'student'"
        ><kbd>Shift Enter</kbd> note on {{ found[at]!.title }} ·
      </template>
      <kbd>Esc</kbd> close
    </p>
  </Modal>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 10px 0;
  max-height: 50vh;
  overflow: auto;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 7px 9px;
  border-radius: 6px;
  cursor: pointer;
}
li.on {
  background: var(--sunk);
  box-shadow: inset 2px 0 0 var(--ink);
}
.title {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.none {
  padding: 14px 2px 0;
}
</style>
