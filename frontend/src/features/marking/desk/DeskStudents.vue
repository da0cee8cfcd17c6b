<script setup lang="ts">
import { NButton } from 'naive-ui'
import { onMounted, watch } from 'vue'
import type { StudentAtTaskOut } from '@/api/schema'
import { stateWords } from '@/shared/states'

/** Everybody in the set, with what is left to do for each. */
const props = defineProps<{
  students: StudentAtTaskOut[]
  current: number
  toMark: number
  /** Names can be hidden, they are, and they were until the set was finished. */
  canHide: boolean
  hidden: boolean
  ended: boolean
  nameOf: (id: number) => string
  /** Several entries of each, of other evidence. */
  several: boolean
}>()
const emit = defineEmits<{ open: [id: number]; hide: [] }>()

/** What is particular about a student's work: late, or not the first time. */
function sign(student: StudentAtTaskOut): string {
  const signs = [
    student.attempt > 1 ? `${props.several ? 'entry' : 'attempt'} ${student.attempt}` : '',
    student.late_minutes ? 'late' : '',
    student.parts > 1 ? `${student.parts} parts` : '',
  ]
  return signs.filter(Boolean).join(', ')
}

const intoView = () =>
  document
    .querySelector('.who [aria-current=true]')
    ?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
watch(() => [props.current, props.hidden], intoView, { flush: 'post' })
onMounted(intoView)
</script>

<template>
  <nav class="who" aria-label="Students">
    <h2>{{ toMark ? `${toMark} to mark` : 'All marked' }}</h2>
    <ul>
      <li v-for="student in students" :key="student.id">
        <button
          type="button"
          :aria-current="student.id === current ? 'true' : undefined"
          @click="emit('open', student.id)"
        >
          <span class="name"
            >{{ nameOf(student.id) }}
            <span v-if="sign(student)" class="sign quiet">{{ sign(student) }}</span></span
          >
          <span
            class="state"
            :class="{ clay: !student.left_on && stateWords(student.state, student.left).clay }"
            >{{ student.left_on ? 'left' : stateWords(student.state, student.left).text }}</span
          >
        </button>
      </li>
    </ul>
    <p class="small quiet keys">
      <span class="step"><kbd>Page Up</kbd> <kbd>Page Down</kbd> student<br /></span>
      <NButton v-if="canHide && toMark" class="link" text @click="emit('hide')">
        <kbd>N</kbd> {{ hidden ? 'show names' : 'hide names' }}
      </NButton>
      <span v-if="ended"><br />The set is finished: names are shown.</span>
    </p>
  </nav>
</template>

<style scoped>
.who {
  background: var(--sunk);
  border-right: 1px solid var(--line);
  padding: 12px 8px;
  font-size: 13px;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
h2 {
  font-size: 14.5px;
  padding: 0 8px 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 2px;
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.sign {
  font-size: 11.5px;
}
li button {
  width: 100%;
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 4px 8px;
  min-height: 28px;
  border: 0;
  border-radius: 6px;
  background: none;
  color: var(--ink-2);
  cursor: pointer;
  text-align: left;
}
li button:hover {
  background: var(--card);
}
li button[aria-current='true'] {
  background: var(--card);
  color: var(--ink);
  font-weight: 650;
  box-shadow: 0 0 0 1px var(--edge);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.state {
  margin-left: auto;
  font-size: 11.5px;
  color: var(--ink-3);
  white-space: nowrap;
  font-weight: 400;
}
.state.clay {
  color: var(--clay);
}
.keys {
  padding: 8px 8px 0;
  line-height: 1.9;
}
@media (max-width: 1000px) {
  .who {
    grid-column: 1 / -1;
    padding: 6px 8px;
    border-right: 0;
    border-bottom: 1px solid var(--line);
  }
  ul {
    display: flex;
    gap: 4px;
  }
  li button {
    min-height: 44px;
  }
  .keys {
    padding-top: 2px;
  }
  .step {
    display: none;
  }
}
</style>
