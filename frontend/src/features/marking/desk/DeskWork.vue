<script setup lang="ts">
import KindTag from '@/shared/KindTag.vue'
import { useFullscreen } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useSession } from '@/shared/session'
import type { DeskOut, EntryOut, MarkOut, WorkAtDeskOut } from '@/api/schema'
import type { Problem } from '@/api/client'
import QueryState from '@/design/telling/QueryState.vue'
import { dayAndTime, duration, several } from '@/design/format'
import { sizeOfPart } from '@/shared/files/kinds'
import { withoutNames } from '@/features/marking/evenly/coverNames'
import AttemptsBar from './AttemptsBar.vue'
import DeskEntries from './DeskEntries.vue'
import WorkParts from '@/shared/files/WorkParts.vue'
import { hasEntries, isWatched } from '@/shared/kinds'

/** The student's work in the middle. */
const props = defineProps<{
  desk: DeskOut
  classId: number
  name: string
  /** Names are hidden: those of files, too. */
  hidden: boolean
  work: WorkAtDeskOut | undefined
  mark: MarkOut | undefined
  error: Problem | null
  /** Of other evidence: the student's entries, once they are here. */
  entries: EntryOut[] | undefined
}>()
defineEmits<{ again: []; entry: [number: number]; leave: [] }>()
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
const parts = computed(() => {
  const there = props.work?.parts ?? []
  return props.hidden ? withoutNames(there) : there
})
const section = ref<HTMLElement | null>(null)
const { isFullscreen, isSupported, toggle } = useFullscreen(section)
defineExpose({ fullScreen: () => void toggle() })
</script>

<template>
  <section ref="section" class="work" aria-label="Work" tabindex="0">
    <div class="row head">
      <h1>{{ desk.task.title }}</h1>
      <KindTag :kind="desk.task.kind" />
      <span class="push" />
      <slot name="tools" />
      <NButton v-if="isSupported && parts.length" size="small" quaternary @click="toggle"
        >{{ isFullscreen ? 'Leave full screen' : 'Full screen' }} <kbd>F</kbd></NButton
      >
    </div>
    <p class="small quiet">
      <b class="name">{{ name }}</b>
      <template v-if="mark?.student.done_at">
        · {{ dated }} {{ dayAndTime(mark.student.done_at, timeZone)
        }}<template v-if="work?.late_minutes"
          >, <span class="clay">{{ duration(work.late_minutes) }} late</span></template
        >
      </template>
      <template v-if="parts.length === 1 && sizeOfPart(parts[0]!)">
        · {{ sizeOfPart(parts[0]!) }}</template
      >
      <template v-else-if="parts.length > 1"> · {{ several(parts.length, 'part') }}</template>
    </p>
    <AttemptsBar
      v-if="mark && !hasEntries(desk.task.kind)"
      :class-id="classId"
      :task-id="desk.task.id"
      :mark="mark"
    />
    <QueryState v-if="!mark || !work" :error="error" :pending="true" @again="$emit('again')" />
    <div v-else class="both" :class="{ two: $slots.beside }">
      <div class="own">
        <slot name="exemplars" />
        <template v-if="hasEntries(desk.task.kind)">
          <DeskEntries
            v-if="entries"
            :task-id="desk.task.id"
            :student="mark.student"
            :entries="entries"
            :at="mark.attempt"
            @open="$emit('entry', $event)"
            @saved="$emit('again')"
            @leave="$emit('leave')"
          />
          <WorkParts v-if="parts.length" class="parts" :parts="parts" />
        </template>
        <WorkParts v-else-if="parts.length" class="parts" :parts="parts" />
        <div v-else class="none quiet">
          <template v-if="isWatched(desk.task.kind)">
            <p>{{ desk.task.instructions || 'Watch, and choose a level for each criterion.' }}</p>
            <p class="small">Nothing is handed in; the first choice notes the time.</p>
          </template>
          <template v-else>
            <p>
              {{
                mark.student.state === 'missing'
                  ? 'Nothing was handed in.'
                  : 'No work is entered here.'
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
      </div>
      <slot name="beside" />
    </div>
  </section>
</template>

<style scoped>
.work {
  /* What is placed in it stays in it, and does not lengthen the page. */
  position: relative;
  padding: 14px 24px;
  overflow: auto;
  container-type: inline-size;
}
.head {
  align-items: baseline;
}
.name {
  color: var(--ink);
}
.work:fullscreen {
  background: var(--paper);
}
.own {
  min-width: 0;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 18px;
}
@container (min-width: 540px) {
  .two {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
}
.parts {
  margin-top: 12px;
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
