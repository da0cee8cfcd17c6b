<script setup lang="ts">
import { NPopover } from 'naive-ui'
import { ref } from 'vue'
import { useSession } from '@/shared/session'
import type { OwnRubricLineOut } from '@/api/schema'
import { day, several } from '@/design/format'
import { vOpens } from '@/design/focus'

/** A rubric in the library, its tags to be changed where they stand. */
const props = defineProps<{ rubric: OwnRubricLineOut; classId: number }>()
const emit = defineEmits<{
  copy: []
  remove: []
  archive: [archived: boolean]
  share: [shared: boolean]
  tags: [text: string]
}>()
const { timeZone } = useSession()
const typed = ref<string | null>(null)

function save() {
  if (typed.value !== null && typed.value !== props.rubric.tags.join(', ')) {
    emit('tags', typed.value)
  }
  typed.value = null
}
</script>

<template>
  <tr>
    <td>
      <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: rubric.id } }"
        ><b>{{ rubric.title }}</b></RouterLink
      >
    </td>
    <td class="tags">
      <input
        v-if="typed !== null"
        v-model="typed"
        v-opens
        class="input"
        :aria-label="`Tags of ${rubric.title}, with commas between`"
        placeholder="with commas between"
        @blur="save"
        @keydown.enter.prevent="save"
        @keydown.esc.stop="typed = null"
      />
      <template v-else>
        <span v-for="tag in rubric.tags" :key="tag" class="tag">{{ tag }}</span>
        <button class="link small quiet" type="button" @click="typed = rubric.tags.join(', ')">
          {{ rubric.tags.length ? 'change' : 'add tags'
          }}<span class="visually-hidden"> of {{ rubric.title }}</span>
        </button>
      </template>
    </td>
    <td>
      <span class="tag">{{ rubric.in_force ? 'final' : 'draft' }}</span>
      <span v-if="rubric.in_force && !rubric.final" class="tag beside">being revised</span>
      <span v-if="rubric.shared" class="tag beside">shared</span>
    </td>
    <td>{{ rubric.criteria }}</td>
    <td>{{ rubric.tasks ? several(rubric.tasks, 'task') : 'no task yet' }}</td>
    <td class="quiet">{{ day(rubric.changed_at, timeZone) }}</td>
    <td class="num">
      <button class="link" type="button" @click="emit('copy')">
        Copy<span class="visually-hidden"> {{ rubric.title }}</span>
      </button>
      ·
      <NPopover trigger="click" placement="bottom-end">
        <template #trigger>
          <button class="link" type="button" :aria-label="`More on ${rubric.title}`">more</button>
        </template>
        <div class="menu">
          <button class="link" type="button" @click="emit('share', !rubric.shared)">
            {{ rubric.shared ? 'Share it no longer' : 'Share within the school' }}
          </button>
          <p v-if="!rubric.shared" class="small quiet">
            Colleagues can copy it{{ rubric.in_force ? '' : ' once it is final' }}, not change it.
          </p>
          <button class="link" type="button" @click="emit('archive', !rubric.archived)">
            {{ rubric.archived ? 'Restore' : 'Archive' }}
          </button>
          <button v-if="!rubric.tasks" class="link" type="button" @click="emit('remove')">
            Delete
          </button>
        </div>
      </NPopover>
    </td>
  </tr>
</template>

<style scoped>
.tags {
  min-width: 150px;
}
.tags .tag {
  margin-right: 5px;
}
.beside {
  margin-left: 5px;
}
.menu {
  display: grid;
  gap: 6px;
  justify-items: start;
  max-width: 260px;
}
</style>
