<script setup lang="ts">
import { useMessage } from 'naive-ui'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useClass } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/useSending'
import { useScales } from '@/shared/scales'
import type { PresetOut, ScaleInLibraryOut } from '@/api/schema'
import QueryState from '@/design/QueryState.vue'
import ScalePicture from '@/design/ScalePicture.vue'
import { several } from '@/design/format'
import { useKeys } from '@/design/keys'
import ScaleForm from './ScaleForm.vue'
import { usePresets, type ScaleDraft } from './useScales'
import { usePageTitle } from '@/shared/pageTitle'

/** The school's library of proficiency scales. */
const props = defineProps<{ classId: number }>()
const route = useRoute()
const router = useRouter()
const message = useMessage()
const klass = useClass(() => props.classId)
const { data: scales, error, isPending, refetch } = useScales()
const { data: presets } = usePresets()
const { problem, send } = useSending(useRefresh().outcomes)
/** What a new scale begins from; none: no new one is being made. */
const start = ref<ScaleDraft | null>(null)
const choosing = ref(false)
const chosenId = ref<number | null>(null)
const chosen = computed(() => scales.value?.find((one) => one.id === chosenId.value) ?? null)
const cut = computed(() => (route.query.cut === 'three-quarters' ? 'three-quarters' : undefined))
watchEffect(() => {
  if (route.query.scale) chosenId.value = Number(route.query.scale)
})

const NOTHING: ScaleDraft = {
  name: '',
  mastery_level: 1,
  levels: [0, 1].map((value) => ({
    name: '',
    code: '',
    value: String(value),
    cut: String(value),
    description: '',
  })),
}

function choose(id: number | null) {
  start.value = null
  choosing.value = false
  chosenId.value = id
  void router.replace({ query: id ? { scale: id } : {} })
}

function begin(from: ScaleDraft | PresetOut | null) {
  choose(null)
  start.value = { ...NOTHING, ...from }
}

const copy = (one: ScaleInLibraryOut) =>
  begin({ name: `${one.name} (copy)`, mastery_level: one.mastery_level, levels: one.levels })

async function change(work: () => Promise<unknown>, said: string) {
  if (await send(work)) message.success(said)
}

const remove = (one: ScaleInLibraryOut) =>
  change(
    () => ask(api.DELETE('/api/scales/{scale_id}', { params: { path: { scale_id: one.id } } })),
    `${one.name} is removed`,
  )

const takeForClass = (one: ScaleInLibraryOut) =>
  change(
    () =>
      ask(
        api.PUT('/api/classes/{class_id}/scale', {
          params: { path: { class_id: props.classId } },
          body: { scale_id: one.id, version: klass.value?.version ?? 0 },
        }),
      ),
    `New outcomes of this class take ${one.name}`,
  )

function used(one: ScaleInLibraryOut): string {
  if (!one.outcomes && !one.classes) return 'used by nothing yet'
  return `used by ${several(one.outcomes, 'outcome')}`
}

useKeys('Scales', [{ keys: ['a'], does: 'New scale', run: () => void (choosing.value = true) }])
usePageTitle('Proficiency scales')
</script>

<template>
  <div class="split">
    <div class="page">
      <div class="page-head">
        <h1>Proficiency scales</h1>
        <span class="quiet">The school’s scales and your own; each outcome is on one of them.</span>
        <div class="actions">
          <RouterLink class="btn bare" :to="{ name: 'outcomes', params: { classId } }"
            >Back to outcomes</RouterLink
          >
          <button class="btn" type="button" @click="choosing = !choosing">
            New scale <kbd>A</kbd>
          </button>
        </div>
      </div>
      <div v-if="choosing" class="notice begin" role="group" aria-label="Begin a scale">
        Begin from
        <button
          v-for="preset in presets"
          :key="preset.levels.length"
          class="btn"
          type="button"
          @click="begin(preset)"
        >
          {{ preset.levels.length }} levels
        </button>
        or <button class="btn" type="button" @click="begin(null)">nothing</button>
      </div>
      <p v-if="problem" class="notice clay" role="alert">{{ problem.message }}</p>
      <QueryState :error="error" :pending="isPending" @again="refetch()" />
      <ul>
        <li v-for="one in scales" :key="one.id" :class="{ on: one.id === chosenId }">
          <ScalePicture
            class="small-picture"
            :levels="one.levels"
            :mastery-level="one.mastery_level"
          />
          <div class="what">
            <h2>{{ one.name }}</h2>
            <p>
              {{ several(one.levels.length, 'level') }}; mastery from
              <b>{{ one.levels[one.mastery_level]?.name }}</b>, {{ one.mastery_cut }}
            </p>
            <p class="small quiet">
              {{ used(one) }}
              <span v-if="klass?.scale_id === one.id" class="tag"
                >for new outcomes of this class</span
              >
              <span v-if="one.own" class="tag">yours</span>
            </p>
            <div class="row actions">
              <button class="btn" type="button" @click="choose(one.id)">
                {{ one.changeable ? 'Change' : 'Look'
                }}<span class="visually-hidden"> {{ one.name }}</span>
              </button>
              <button class="btn bare" type="button" @click="copy(one)">
                Copy<span class="visually-hidden"> {{ one.name }}</span>
              </button>
              <button
                v-if="klass && klass.scale_id !== one.id"
                class="btn bare"
                type="button"
                @click="takeForClass(one)"
              >
                Use for new outcomes<span class="visually-hidden">: {{ one.name }}</span>
              </button>
              <button
                v-if="one.changeable && !one.outcomes && !one.classes"
                class="btn bare"
                type="button"
                @click="remove(one)"
              >
                Remove<span class="visually-hidden"> {{ one.name }}</span>
              </button>
            </div>
          </div>
        </li>
      </ul>
    </div>
    <aside v-if="start || chosen" class="side" aria-label="Scale">
      <ScaleForm
        :key="chosen?.id ?? `new ${start?.levels.length} ${start?.name}`"
        :scale="chosen"
        :start="start ?? NOTHING"
        :scales="scales ?? []"
        :cut="cut"
        @made="choose"
        @close="choose(null)"
      />
    </aside>
  </div>
</template>

<style scoped>
.split:has(> .side) {
  grid-template-columns: minmax(0, 1fr) 430px;
}
.split:not(:has(> .side)) {
  grid-template-columns: minmax(0, 1fr);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 28px;
  align-items: center;
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  padding: 12px 16px;
  margin-bottom: 12px;
}
li.on {
  box-shadow: inset 3px 0 0 var(--ink);
}
.small-picture {
  flex: none;
  width: 270px;
}
.what {
  display: grid;
  gap: 5px;
  min-width: 240px;
  flex: 1;
}
.actions {
  flex-wrap: wrap;
  gap: 4px 8px;
  margin-top: 4px;
}
.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 12px;
}
.notice.clay {
  margin-bottom: 12px;
}
@media (max-width: 900px) {
  .split:has(> .side) {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
