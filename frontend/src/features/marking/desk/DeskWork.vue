<script setup lang="ts">
import Tag from '@/design/controls/Tag.vue'
import { computed } from 'vue'
import { useSession } from '@/shared/session'
import type { DeskOut, MarkOut, WorkAtDeskOut } from '@/api/schema'
import type { Problem } from '@/api/client'
import QueryState from '@/design/telling/QueryState.vue'
import { dayAndTime, duration, several } from '@/design/format'

/** The student's work in the middle. */
const props = defineProps<{
  desk: DeskOut
  classId: number
  name: string
  work: WorkAtDeskOut | undefined
  mark: MarkOut | undefined
  error: Problem | null
}>()
defineEmits<{ again: [] }>()
const { timeZone } = useSession()
const DATED = {
  'handed-in': 'handed in',
  observed: 'observed',
  'on-paper': 'on paper, counted from',
  undecided: '',
}
const dated = computed(() => {
  const student = props.mark?.student
  return student?.corrected ? 'done' : DATED[student?.dating ?? 'undecided']
})
const parts = computed(() =>
  (props.work?.parts ?? []).map((part) => ({
    ...part,
    paragraphs: part.text.split(/\n\s*\n/).filter((one) => one.trim()),
  })),
)
</script>

<template>
  <section class="work" aria-label="Work" tabindex="0">
    <div class="row head">
      <h1>{{ desk.task.title }}</h1>
      <Tag v-if="desk.task.kind === 'observed'">observed</Tag>
    </div>
    <p class="small quiet">
      <b class="name">{{ name }}</b>
      <template v-if="mark?.student.done_at">
        · {{ dated }} {{ dayAndTime(mark.student.done_at, timeZone)
        }}<template v-if="work?.late_minutes"
          >, <span class="clay">{{ duration(work.late_minutes) }} late</span></template
        >
      </template>
      <template v-for="(part, index) in parts" :key="index">
        · {{ several(part.words, 'word')
        }}<template v-if="part.file_name"> · {{ part.file_name }}</template></template
      >
    </p>
    <QueryState v-if="!mark || !work" :error="error" :pending="true" @again="$emit('again')" />
    <template v-else-if="parts.length">
      <article v-for="(part, place) in parts" :key="place" class="sheet">
        <p v-for="(paragraph, index) in part.paragraphs" :key="index">{{ paragraph }}</p>
      </article>
    </template>
    <div v-else class="none quiet">
      <template v-if="desk.task.kind === 'observed'">
        <p>{{ desk.task.instructions || 'Watch, and choose a level for each criterion.' }}</p>
        <p class="small">Nothing is handed in; the first choice notes the time.</p>
      </template>
      <template v-else>
        <p>
          {{
            mark.student.state === 'missing' ? 'Nothing was handed in.' : 'No work is entered here.'
          }}
        </p>
        <p class="small">
          Work on paper can be marked as it is, or
          <RouterLink :to="{ name: 'task', params: { classId, taskId: desk.task.id } }"
            >enter it on the task’s page</RouterLink
          >.
        </p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.work {
  padding: 14px 24px;
  overflow: auto;
}
.head {
  align-items: baseline;
}
.name {
  color: var(--ink);
}
.sheet {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 22px 30px;
  margin-top: 12px;
  font-size: 15px;
  line-height: 1.6;
  max-width: 72ch;
}
.sheet p {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  margin-bottom: 1em;
}
.none {
  margin-top: 14px;
  border: 1px dashed var(--edge);
  border-radius: 6px;
  padding: 18px 22px;
  display: grid;
  gap: 6px;
  max-width: 72ch;
}
</style>
