<script setup lang="ts">
import type { Problem } from '@/api/client'
import type { LevelOut } from '@/api/schema'

/** A level of a scale: name, code, value, cut score, whether it is mastery, and what it means. */
const level = defineModel<LevelOut>({ required: true })
const masteryLevel = defineModel<number>('masteryLevel', { required: true })
const props = defineProps<{ index: number; removable: boolean; problem: Problem | null }>()
const emit = defineEmits<{ remove: [] }>()

function at(field: string): 'true' | undefined {
  return props.problem?.at(`levels.${props.index}.${field}`) ? 'true' : undefined
}
</script>

<template>
  <tr :class="{ mastered: index >= masteryLevel }">
    <td>
      <input
        v-model="level.name"
        class="input"
        :aria-label="`Name of level ${index + 1}`"
        :aria-invalid="at('name')"
      />
    </td>
    <td class="code">
      <input
        v-model="level.code"
        class="input"
        :aria-label="`Code of level ${index + 1}`"
        :aria-invalid="at('code')"
      />
    </td>
    <td class="number">
      <input
        v-model="level.value"
        class="input"
        inputmode="decimal"
        :aria-label="`Value of level ${index + 1}`"
        :aria-invalid="at('value')"
      />
    </td>
    <td class="number">
      <input
        v-model="level.cut"
        class="input"
        inputmode="decimal"
        :aria-label="`Cut score of level ${index + 1}`"
        :aria-invalid="at('cut')"
      />
    </td>
    <td class="radio">
      <input
        v-model="masteryLevel"
        type="radio"
        :value="index"
        name="mastery"
        :aria-label="`Level ${index + 1} is mastery`"
      />
    </td>
    <td>
      <button
        v-if="removable"
        class="btn bare small"
        type="button"
        :aria-label="`Take level ${index + 1} away`"
        @click="emit('remove')"
      >
        ×
      </button>
    </td>
  </tr>
  <tr :class="{ mastered: index >= masteryLevel }">
    <td colspan="6" class="means">
      <textarea
        v-model="level.description"
        class="input plain small"
        rows="1"
        :aria-label="`What level ${index + 1} means`"
        placeholder="What it means"
        :aria-invalid="at('description')"
      />
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 2px 3px 0 0;
}
td.means {
  padding-bottom: 4px;
}
.means .input {
  display: block;
  min-height: 28px;
  field-sizing: content;
  resize: none;
}
td.code {
  width: 48px;
}
td.number {
  width: 66px;
}
td .input {
  padding-inline: 6px;
}
tr.mastered td:first-child {
  box-shadow: inset 3px 0 0 var(--jade);
  padding-left: 6px;
}
.radio {
  text-align: center;
}
.btn.small {
  padding: 4px 8px;
}
</style>
