<script setup lang="ts">
import { computed } from 'vue'
import type { OwnLadderOut, RungOtherwiseOut, RungOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { levelSign, longDay, several } from '@/design/format'
import { pieceWords } from '@/shared/nextPiece'
import NoteFiles from '@/shared/notes/NoteFiles.vue'
import { useSession } from '@/shared/session'
import { seenByTeachers } from './seenOtherwise'
import TrailSpark from './TrailSpark.vue'

/** A student's own ladder in a class: every outcome in words, by strand, and what climbs it next. */
const props = defineProps<{
  ladder: OwnLadderOut
  /** The student looks at it, and not a teacher. */
  own?: boolean
  /** Of which outcomes their teacher, who looks at it, sees otherwise. */
  otherwise?: RungOtherwiseOut[]
}>()
const otherwiseOf = (rung: RungOut) => props.otherwise?.find((one) => one.id === rung.id)
const { timeZone } = useSession()
const groups = computed(() => {
  const strands = [
    ...props.ladder.strands,
    { id: null, title: props.ladder.strands.length ? 'More' : '' },
  ]
  return strands
    .map((strand) => ({
      ...strand,
      rungs: props.ladder.rungs.filter((one) => one.strand_id === strand.id),
    }))
    .filter((group) => group.rungs.length)
})

function standing(rung: RungOut): { text: string; clay?: boolean } {
  const day = (iso: string) => longDay(iso, timeZone.value)
  const { state } = rung.mastery
  if (state === 'no-evidence') return { text: 'no evidence yet' }
  if (state === 'needs-evidence')
    return { text: `${rung.mastery.pieces} of ${rung.minimum} pieces of evidence` }
  if (rung.slipped_at) return { text: `slipped ${day(rung.slipped_at)}`, clay: true }
  if (rung.held_since)
    return { text: `${rung.back ? 'back' : 'held'} since ${day(rung.held_since)}` }
  return { text: 'not yet' }
}
function levelName(rung: RungOut): string {
  return rung.mastery.level === null ? '' : rung.scale.levels[rung.mastery.level]!.name
}
function next(rung: RungOut): string {
  const piece = rung.next_piece
  if (!piece || rung.mastery.level === null || rung.mastery.state === 'mastered') return ''
  return `A piece at ${pieceWords(piece)} reaches mastery.`
}
</script>

<template>
  <section v-for="group in groups" :key="group.id ?? 0">
    <h3 v-if="group.title">{{ group.title }}</h3>
    <ul>
      <li v-for="rung in group.rungs" :key="rung.id">
        <Ladder
          :level="rung.mastery.level"
          :levels="rung.scale.levels.length"
          :mastery-level="rung.scale.mastery_level"
          :uncertain="rung.mastery.state === 'needs-evidence'"
          :size="26"
          :label="
            rung.mastery.level === null
              ? 'no evidence'
              : `level ${rung.mastery.level + 1} of ${rung.scale.levels.length}, ${levelName(rung)}`
          "
        />
        <div class="words">
          {{ rung.title }}
          <p class="small quiet">
            <template v-if="rung.mastery.level !== null"
              ><b>{{ rung.mastery.value }}</b> {{ levelName(rung) }} · </template
            ><span :class="{ clay: standing(rung).clay }">{{ standing(rung).text }}</span
            ><template v-if="rung.before && rung.before.value !== rung.mastery.value">
              · {{ rung.before.value ?? 'nothing' }} before</template
            >
          </p>
          <p v-if="rung.judged_because !== null" class="small plum" dir="auto">
            Set by {{ own ? 'your' : 'the' }} teacher: {{ rung.judged_because }}
            <span class="quiet">By calculation: {{ rung.mastery.calculated ?? 'nothing' }}.</span>
          </p>
          <p v-if="otherwiseOf(rung)" class="small clay">
            {{ seenByTeachers(otherwiseOf(rung)!, rung.scale) }}
          </p>
          <p v-if="next(rung)" class="small">{{ next(rung) }}</p>
          <p v-if="rung.aside" class="small quiet">
            {{ several(rung.aside, 'piece of evidence is', 'pieces of evidence are') }} set aside
            and {{ rung.aside === 1 ? 'does' : 'do' }} not count.
          </p>
          <details v-if="rung.notes.length" class="small">
            <summary>{{ several(rung.notes.length, 'note') }} of what was seen</summary>
            <ul class="notes">
              <li v-for="note in rung.notes" :key="note.id">
                <b class="level">{{ levelSign(note.level, note.half_way) }}</b>
                <span class="quiet"> {{ longDay(note.seen_at, timeZone) }}, {{ note.by }}</span>
                <p v-if="note.words" dir="auto">{{ note.words }}</p>
                <NoteFiles :files="note.files" :own="own" />
              </li>
            </ul>
          </details>
        </div>
        <TrailSpark v-if="rung.points.length > 1" class="push" :rung="rung" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
h3 {
  border-bottom: 1px solid var(--edge);
  padding-bottom: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 9px 0;
  border-bottom: 1px solid var(--line);
  break-inside: avoid;
}
.level {
  margin-right: 8px;
}
.notes li {
  display: block;
}
.plum {
  color: var(--plum);
}
.words {
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
