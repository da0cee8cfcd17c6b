<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import type { TrailOut } from '@/api/schema'
import Tag from '@/design/controls/Tag.vue'
import TextField from '@/design/controls/TextField.vue'
import { vOpens } from '@/design/focus'
import { day, dayAndTime } from '@/design/format'
import FormProblem from '@/design/telling/FormProblem.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import KindTag from '@/shared/KindTag.vue'
import { useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { attemptWord } from '@/shared/states'
import NotePiece from './NotePiece.vue'

/** Where evidence came from, the newest first; a piece is set aside, and counts again. */
const props = defineProps<{ classId: number; trail: TrailOut; now: boolean }>()
const emit = defineEmits<{ changed: [] }>()
type Piece = TrailOut['pieces'][number]
const { timeZone } = useSession()
const { problem, busy, send } = useSending(useRefresh().marks)
/** The piece that is being set aside, and why. */
const open = ref<string | null>(null)
const reason = ref('')
const keyOf = (piece: Piece) =>
  piece.note ? `note ${piece.note.id}` : `${piece.task_id} ${piece.attempt}`
const several = (piece: Piece) =>
  !piece.note &&
  (piece.attempt > 1 ||
    props.trail.pieces.some(
      (one) => one.task_id === piece.task_id && one.attempt !== piece.attempt,
    ))
const nameOf = (piece: Piece) => (piece.note ? 'the note' : piece.task)

function which(piece: Piece) {
  return {
    student_ids: [props.trail.student_id],
    attempt: piece.attempt,
    outcome_ids: [props.trail.outcome_id],
  }
}
const path = (piece: Piece) => ({ params: { path: { task_id: piece.task_id ?? 0 } } })
/** Of a note: why it does not count, or (null) that it counts again. */
const noteAside = (id: number, reason: string | null) =>
  ask(
    api.PUT('/api/notes/{note_id}/aside', {
      params: { path: { note_id: id } },
      body: { reason },
    }),
  )

async function setAside(piece: Piece) {
  const body = { ...which(piece), reason: reason.value }
  const done = await send(() =>
    piece.note
      ? noteAside(piece.note.id, reason.value)
      : ask(api.POST('/api/tasks/{task_id}/set-aside', { ...path(piece), body })),
  )
  if (!done) return
  open.value = null
  reason.value = ''
  say(`Set aside: ${nameOf(piece)} does not count here`, {
    work: () => countAgain(piece),
    undone: 'It counts again',
  })
  emit('changed')
}

async function countAgain(piece: Piece) {
  const body = which(piece)
  const done = await send(() =>
    piece.note
      ? noteAside(piece.note.id, null)
      : ask(api.POST('/api/tasks/{task_id}/counted-again', { ...path(piece), body })),
  )
  if (done) emit('changed')
  return done
}
</script>

<template>
  <h3>Where it came from</h3>
  <FormProblem v-if="open === null" :problem="problem" />
  <ul>
    <li
      v-for="piece in trail.pieces"
      :key="keyOf(piece)"
      :class="{ out: !piece.counted }"
      :data-aside="piece.aside ? true : undefined"
    >
      <span class="quiet small">{{ day(piece.at, timeZone) }}</span>
      <span>
        <NotePiece
          v-if="piece.note"
          :note="piece.note"
          :class-id="piece.class_id"
          :scale="trail.scale"
          :value="piece.value"
          :now="now"
          @changed="emit('changed')"
        />
        <RouterLink
          v-else-if="piece.class_id"
          :to="{
            name: 'desk',
            params: {
              classId: piece.class_id,
              taskId: piece.task_id,
              studentId: trail.student_id,
              entry: several(piece) ? piece.attempt : undefined,
            },
          }"
          >{{ piece.task }}</RouterLink
        >
        <template v-else>{{ piece.task }}</template>
        <span v-if="several(piece)" class="small quiet">
          {{ attemptWord(piece.kind ?? 'handed-in').toLowerCase() }} {{ piece.attempt }}</span
        >
        <span v-if="piece.class_id !== classId" class="small quiet">
          in {{ piece.class_name }}</span
        >
        <KindTag v-if="piece.kind" class="beside" :kind="piece.kind" />
        <Tag v-if="piece.aside" class="beside" tone="clay">set aside</Tag>
        <Tag v-else-if="!piece.counted">a later attempt counts</Tag>
        <span v-if="piece.aside" class="small remark"
          >{{ piece.aside.reason }}
          <span class="quiet"
            >({{ piece.aside.by }}, {{ day(piece.aside.at, timeZone) }})</span
          ></span
        >
        <span v-if="piece.carried.length" class="small quiet remark"
          >with what was met in attempt {{ piece.carried.join(' and ') }} carried over</span
        >
        <span v-if="piece.own_time" class="small quiet remark"
          >time corrected; by itself {{ dayAndTime(piece.own_time, timeZone) }}</span
        >
        <span v-for="remark in piece.remarks" :key="remark" class="small quiet remark"
          >“{{ remark }}”</span
        >
        <form
          v-if="open === keyOf(piece)"
          v-opens
          class="why"
          novalidate
          aria-label="Set aside"
          @submit.prevent="setAside(piece)"
        >
          <TextField
            v-model="reason"
            label="Why does it not count?"
            hint="It stays on record, and can count again"
            :error="problem?.at('reason')"
          />
          <FormProblem :problem="problem" />
          <div class="row">
            <NButton type="primary" attr-type="submit" size="small" :disabled="busy"
              >Set it aside</NButton
            >
            <NButton quaternary size="small" @click="open = null">Cancel</NButton>
          </div>
        </form>
        <div v-else-if="now && piece.class_id">
          <NButton
            v-if="piece.aside"
            class="link small"
            text
            :disabled="busy"
            @click="countAgain(piece)"
            >Count it again</NButton
          >
          <NButton v-else class="link quiet small" text @click="open = keyOf(piece)"
            >Set aside …</NButton
          >
        </div>
      </span>
      <b :class="{ struck: piece.aside }">{{ piece.value }}</b>
    </li>
  </ul>
</template>

<style scoped>
h3 {
  margin: 12px 0 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 54px 1fr auto;
  gap: 3px 10px;
  padding: 6px 0;
  border-top: 1px solid var(--line);
  font-size: 13px;
}
li.out {
  color: var(--ink-3);
}
.remark {
  display: block;
}
.beside {
  margin-left: 6px;
}
.struck {
  text-decoration: line-through;
  font-weight: 400;
}
.why {
  margin-top: 6px;
}
</style>
