<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { CriterionOut } from '@/api/schema'
import SelectField from '@/design/controls/SelectField.vue'
import RemarkField from '@/features/marking/desk/RemarkField.vue'
import { remarkId } from '@/shared/passages/paint'
import { briefOf } from '@/shared/passages/passages'
import type { usePassages } from './usePassages'

/** The remarks on passages that are tied to a criterion, or (null) to the work as a whole. */
const props = defineProps<{
  it: ReturnType<typeof usePassages>
  criterionId: number | null
  criteria: CriterionOut[]
}>()
defineEmits<{ leave: [] }>()
const mine = computed(() =>
  props.it.all.value.filter((one) => one.criterion_id === props.criterionId),
)
</script>

<template>
  <ol v-if="mine.length" class="passages" aria-label="Remarks on passages">
    <li
      v-for="one in mine"
      :id="remarkId(one.key)"
      :key="one.key"
      :data-passage-open="it.openKey.value === one.key ? '' : undefined"
    >
      <button
        type="button"
        class="number"
        :aria-label="`Show where remark ${one.number} is`"
        @click="it.show(one.key)"
      >
        {{ one.number }}
      </button>
      <div v-if="it.openKey.value === one.key" class="open">
        <RemarkField
          :label="`Remark ${one.number} on ${briefOf(one.place)}`"
          :text="one.text"
          @save="it.write(one.key, $event)"
          @leave="(it.leave(), $emit('leave'))"
        />
        <div class="row">
          <SelectField
            :model-value="criterionId"
            label="Tied to"
            bare
            class="tie"
            @update:model-value="it.tie(one.key, $event)"
          >
            <option :value="null">The work as a whole</option>
            <option v-for="each in criteria" :key="each.id" :value="each.id">
              {{ each.title }}
            </option>
          </SelectField>
          <NButton size="small" quaternary @click="it.remove(one.key)">Delete</NButton>
          <NButton size="small" quaternary class="push" @click="it.leave()">Close</NButton>
        </div>
        <slot :passage="one" />
      </div>
      <button v-else type="button" class="brief" @click="it.open(one.key)">
        <span dir="auto">{{ one.text }}</span>
        <span class="quiet small" dir="auto">
          on {{ briefOf(one.place, 40)
          }}<span v-if="it.lost.has(one.key)" class="clay"
            >, which is not there any more</span
          ></span
        >
      </button>
    </li>
  </ol>
</template>

<style scoped>
.passages {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 8px;
  align-items: start;
}
.number {
  font: 700 11px/1 var(--body);
  min-width: 24px;
  min-height: 24px;
  padding: 0 5px;
  border: 0;
  border-radius: 12px;
  background: var(--ink);
  color: var(--on-ink);
  cursor: pointer;
}
.brief {
  font: inherit;
  font-size: 13px;
  line-height: 1.35;
  color: var(--ink);
  text-align: start;
  display: grid;
  gap: 1px;
  padding: 3px 6px;
  border: 0;
  border-radius: 4px;
  background: none;
  cursor: pointer;
  overflow-wrap: anywhere;
  min-height: 24px;
}
.brief > span:first-child {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  overflow: hidden;
}
.brief:hover {
  background: var(--sunk);
}
.open {
  display: grid;
  gap: 6px;
  overflow-wrap: anywhere;
}
.tie {
  min-width: 0;
  flex: 1;
}
@media (pointer: coarse) {
  .number,
  .brief {
    min-height: 44px;
    min-width: 44px;
  }
}
</style>
