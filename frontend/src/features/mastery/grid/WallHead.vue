<script setup lang="ts">
import ClassLadder from '@/design/ClassLadder.vue'
import type { OutcomeColumn, WallColumn, WallView } from '@/features/mastery/wall'
import type { StrandSpan } from './spans'
import type { InSight } from './useInSight'

/** Strands, codes and class ladders over the columns in sight. */
const props = defineProps<{
  columns: InSight<WallColumn>[]
  spans: StrandSpan[]
  titles: Map<number, string>
  view: WallView
  height: number
  nameWidth: number
  columnWidth: number
  countLeft: number
  countWidth: number
  columnCount: number
  /** What a folded strand says beside how many are mastered: its mean, or the lowest. */
  rollUp: string
}>()
const emit = defineEmits<{ sort: [by: string]; fold: [strandId: number] }>()

function columnLabel({ outcome, scale }: OutcomeColumn): string {
  const levels = outcome.at_level.map((count, level) => `${count} at ${scale.levels[level]?.name}`)
  return `${outcome.mastered} of ${outcome.counted} mastered: ${levels.join(', ')}; ${outcome.needing} need evidence, ${outcome.without} without`
}
/** How the rows are sorted by a column, as aria says it. */
function sorted(by: string): 'ascending' | 'descending' | undefined {
  if (props.view.sort === by) return 'ascending'
  return props.view.sort === `-${by}` ? 'descending' : undefined
}
const ARROW = { ascending: ' ▴', descending: ' ▾', none: '' }
const arrow = (by: string) => ARROW[sorted(by) ?? 'none']
</script>

<template>
  <div class="head" role="rowgroup" :style="{ height: `${height}px` }">
    <div role="row" aria-rowindex="1" class="strands">
      <div class="corner" role="presentation" :style="{ width: `${nameWidth}px` }"></div>
      <div
        v-for="span in spans"
        :key="span.from"
        role="columnheader"
        :aria-colindex="span.from + 2"
        :aria-colspan="span.count"
        class="strand"
        :class="{ folded: span.folded }"
        :style="{
          left: `${nameWidth + span.from * columnWidth}px`,
          width: `${span.count * columnWidth}px`,
        }"
      >
        <button
          v-if="span.strandId !== null"
          type="button"
          :aria-expanded="!span.folded"
          :title="
            span.folded
              ? `${titles.get(span.strandId)}: show its outcomes`
              : 'Fold this strand into one column'
          "
          @click="emit('fold', span.strandId)"
        >
          <span class="title" :style="{ left: `${nameWidth + 4}px` }"
            >{{ span.folded ? '▸' : '▾' }} {{ titles.get(span.strandId) }}</span
          >
        </button>
      </div>
    </div>
    <div role="row" aria-rowindex="2" class="codes">
      <div
        class="corner name"
        role="columnheader"
        aria-colindex="1"
        :aria-sort="sorted('name') ?? 'none'"
        :style="{ width: `${nameWidth}px` }"
      >
        <button type="button" @click="emit('sort', 'name')">Student{{ arrow('name') }}</button>
      </div>
      <template v-for="{ column, index, style } in columns" :key="index">
        <div
          v-if="column.outcome"
          role="columnheader"
          class="code"
          :class="{ start: column.starts }"
          :aria-colindex="index + 2"
          :aria-sort="sorted(`o${column.outcome.id}`) ?? 'none'"
          :title="column.outcome.title"
          :style="style"
        >
          <button type="button" @click="emit('sort', `o${column.outcome.id}`)">
            {{ column.outcome.code
            }}<span
              v-if="column.outcome.own_method"
              class="own"
              :title="column.outcome.method.name"
              :aria-label="`, by ${column.outcome.method.name}`"
              >*</span
            >{{ arrow(`o${column.outcome.id}`) }}
          </button>
          <ClassLadder
            :at-level="column.outcome.at_level"
            :mastery-level="column.scale.mastery_level"
            :label="columnLabel(column)"
          />
          <span class="of" aria-hidden="true"
            >{{ column.outcome.mastered }} of {{ column.outcome.counted }}</span
          >
        </div>
        <div
          v-else
          role="columnheader"
          class="code start"
          :aria-colindex="index + 2"
          :style="style"
        >
          <span class="of">mastered<br />{{ rollUp }}</span>
        </div>
      </template>
      <div
        class="code start"
        role="columnheader"
        :aria-colindex="columnCount + 2"
        :aria-sort="sorted('mastered') ?? 'none'"
        :style="{ left: `${countLeft}px`, width: `${countWidth}px` }"
      >
        <button type="button" @click="emit('sort', 'mastered')">
          Mastered{{ arrow('mastered') }}
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--card);
  border-bottom: 1px solid var(--edge);
  font-size: 12px;
  color: var(--ink-2);
}
.strands {
  position: relative;
  height: 24px;
}
.strand {
  position: absolute;
  top: 0;
  height: 24px;
  border-left: 1px solid var(--line);
}
.strand .title {
  position: sticky;
  font: 560 13px/24px var(--head);
  color: var(--ink);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.strand button {
  width: 100%;
  overflow: clip;
}
.strand.folded .title {
  position: static;
  display: block;
}
.codes {
  position: relative;
  height: 73px;
}
.codes .name {
  position: sticky;
  display: flex;
  align-items: flex-end;
  height: 73px;
  padding-bottom: 6px;
}
.code {
  position: absolute;
  top: 0;
  height: 73px;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: flex-end;
  gap: 2px;
  padding-bottom: 4px;
}
button {
  border: 0;
  background: none;
  padding: 0 4px;
  font: inherit;
  font-weight: 600;
  color: inherit;
  cursor: pointer;
  text-align: left;
}
button:hover {
  text-decoration: underline;
}
.of {
  color: var(--ink-3);
  font-size: 11px;
  white-space: nowrap;
}
.own {
  color: var(--ink-3);
}
.corner {
  position: sticky;
  left: 0;
  z-index: 1;
  background: var(--card);
}
.strands .corner {
  height: 24px;
}
.start {
  border-left: 1px solid var(--line);
}
</style>
