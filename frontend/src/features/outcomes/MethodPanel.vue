<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { useMessage } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ClassOut, MethodIn, MethodPreviewOut, ScaleOut } from '@/api/schema'
import Ladder from '@/design/Ladder.vue'
import { several } from '@/design/format'
import MethodFields from './MethodFields.vue'
import { useOutcomesChanged } from './useOutcomes'

/** The class's method: what a change means, whose level it changes, then the change. */
const props = defineProps<{ klass: ClassOut; scales: ScaleOut[] }>()
const emit = defineEmits<{ 'cut-three-quarters': [] }>()
const message = useMessage()
const changed = useOutcomesChanged(() => props.klass.id)
const method = reactive<Required<MethodIn>>({ kind: 'latest', newest: 60, last: 3 })
const preview = ref<MethodPreviewOut | null>(null)
const problem = ref<Problem | null>(null)
const MOST = 8

watch(
  () => props.klass.method,
  ({ kind, newest, last }) => Object.assign(method, { kind, newest, last }),
  { immediate: true },
)
const dirty = computed(() => {
  const now = props.klass.method
  return (
    method.kind !== now.kind ||
    (method.kind === 'decaying-average' && Number(method.newest) !== now.newest) ||
    (method.kind === 'recent-mean' && Number(method.last) !== now.last)
  )
})
const path = computed(() => ({ class_id: props.klass.id }))
const scaleOf = computed(() => new Map(props.scales.map((scale) => [scale.id, scale])))

async function look() {
  problem.value = null
  try {
    preview.value = await ask(
      api.POST('/api/classes/{class_id}/method/preview', {
        params: { path: path.value },
        body: method,
      }),
    )
  } catch (error) {
    preview.value = null
    problem.value = asProblem(error)
  }
}
watchDebounced([method, () => props.scales], look, { debounce: 200, immediate: true, deep: true })

async function save() {
  try {
    await ask(
      api.PUT('/api/classes/{class_id}/method', {
        params: { path: path.value },
        body: { method, version: props.klass.version },
      }),
    )
    await changed()
    message.success('The method is changed; no evidence was touched')
    await look()
  } catch (error) {
    problem.value = asProblem(error)
  }
}

function levelName(scaleId: number, level: number | null): string {
  return level === null ? 'no evidence' : (scaleOf.value.get(scaleId)?.levels[level]?.name ?? '')
}
</script>

<template>
  <section>
    <h2>How mastery is worked out</h2>
    <MethodFields v-model="method" label="Method of the class" :problem="problem" />
    <p v-if="problem && !problem.errors.some((e) => e.field)" class="notice clay" role="alert">
      {{ problem.message }}
    </p>
    <div v-for="cut in preview?.hard_cuts ?? []" :key="cut.scale" class="notice clay">
      <b>{{ cut.scale }} is cut at the values.</b> Under an average, after one “{{ cut.below }}” it
      takes
      <template v-if="cut.pieces">{{ several(cut.pieces, 'piece') }} of “{{ cut.level }}”</template>
      <template v-else>more than 200 pieces of “{{ cut.level }}”</template>
      to be at mastery.
      <button class="link" type="button" @click="emit('cut-three-quarters')">
        Cut three quarters of the way up
      </button>
    </div>
    <template v-if="dirty && preview">
      <p v-if="!preview.changes.length" class="small" role="status">Nobody’s level would change.</p>
      <div v-else role="status">
        <p class="small">
          <b>{{ several(preview.changes.length, 'level') }} would change:</b>
          {{ preview.changes.filter((one) => one.rises).length }} up,
          {{ preview.changes.filter((one) => !one.rises).length }} down.
        </p>
        <ul class="small">
          <li v-for="(one, index) in preview.changes.slice(0, MOST)" :key="index">
            <b>{{ one.code }}</b> {{ one.student }}
            <span class="move">
              <Ladder
                :level="one.before.level"
                :levels="scaleOf.get(one.scale_id)?.levels.length ?? 4"
                :mastery="scaleOf.get(one.scale_id)?.mastery ?? 2"
                :size="14"
                :label="levelName(one.scale_id, one.before.level)"
              />{{ one.before.value ?? '–' }} →
              <Ladder
                :level="one.after.level"
                :levels="scaleOf.get(one.scale_id)?.levels.length ?? 4"
                :mastery="scaleOf.get(one.scale_id)?.mastery ?? 2"
                :size="14"
                :label="levelName(one.scale_id, one.after.level)"
              />{{ one.after.value ?? '–' }}
            </span>
          </li>
        </ul>
        <p v-if="preview.changes.length > MOST" class="small quiet">
          and {{ preview.changes.length - MOST }} more
        </p>
      </div>
    </template>
    <div v-if="dirty" class="row">
      <button class="btn main" type="button" :disabled="problem !== null" @click="save">
        Use this method
      </button>
      <button class="btn bare" type="button" @click="Object.assign(method, klass.method)">
        Keep {{ klass.method.name }}
      </button>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
h2 {
  margin-bottom: 4px;
}
ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}
li {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
.move {
  margin-left: auto;
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
</style>
