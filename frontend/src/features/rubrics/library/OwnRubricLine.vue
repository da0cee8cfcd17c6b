<script setup lang="ts">
import Tag from '@/design/controls/Tag.vue'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import TextField from '@/design/controls/TextField.vue'
import Menu from '@/design/controls/Menu.vue'
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

const items = computed(() => {
  const { shared, archived, in_force, tasks } = props.rubric
  const share = in_force
    ? 'Share within the school, to be copied'
    : 'Share within the school, once it is final'
  return [
    { text: 'Copy', act: () => emit('copy') },
    { text: shared ? 'Share it no longer' : share, act: () => emit('share', !shared) },
    { text: archived ? 'Restore' : 'Archive', act: () => emit('archive', !archived) },
    ...(tasks ? [] : [{ text: 'Delete', act: () => emit('remove') }]),
  ]
})
</script>

<template>
  <tr>
    <td>
      <RouterLink :to="{ name: 'rubric', params: { classId, rubricId: rubric.id } }"
        ><b>{{ rubric.title }}</b></RouterLink
      >
    </td>
    <td class="tags">
      <div v-if="typed !== null" v-opens>
        <TextField
          v-model="typed"
          bare
          :label="`Tags of ${rubric.title}, with commas between`"
          placeholder="with commas between"
          @focusout="save"
          @keydown.enter.prevent="save"
          @keydown.esc.stop="typed = null"
        />
      </div>
      <template v-else>
        <Tag v-for="tag in rubric.tags" :key="tag">{{ tag }}</Tag>
        <NButton class="link quiet" text size="small" @click="typed = rubric.tags.join(', ')">
          {{ rubric.tags.length ? 'change' : 'add tags'
          }}<span class="visually-hidden"> of {{ rubric.title }}</span>
        </NButton>
      </template>
    </td>
    <td>
      <Tag>{{ rubric.in_force ? 'final' : 'draft' }}</Tag>
      <Tag v-if="rubric.in_force && !rubric.final" class="beside">being revised</Tag>
      <Tag v-if="rubric.shared" class="beside">shared</Tag>
    </td>
    <td>{{ rubric.criteria }}</td>
    <td>{{ rubric.tasks ? several(rubric.tasks, 'task') : 'no task yet' }}</td>
    <td class="quiet">{{ day(rubric.changed_at, timeZone) }}</td>
    <td class="num">
      <Menu :label="`More on ${rubric.title}`" small :items="items" />
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
</style>
