<script setup lang="ts">
import SidePanel from '@/design/controls/SidePanel.vue'
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NButton } from 'naive-ui'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useClass } from '@/shared/classes'
import { api, ask } from '@/api/client'
import { useRefresh } from '@/shared/queries'
import { useSending } from '@/shared/forms/useSending'
import { useScales } from '@/shared/scales'
import type { PresetOut, ScaleInLibraryOut } from '@/api/schema'
import QueryState from '@/design/telling/QueryState.vue'
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
const klass = useClass(() => props.classId)
const { data: scales, error, isPending, refetch } = useScales()
const { data: presets } = usePresets()
const refresh = useRefresh().outcomes
const { problem, send } = useSending(refresh)
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
  if (await send(work)) say(said)
}

async function remove(one: ScaleInLibraryOut) {
  const path = { params: { path: { scale_id: one.id } } }
  if (!(await send(() => ask(api.DELETE('/api/scales/{scale_id}', path))))) return
  const { name, mastery_level, levels } = one
  say(`${name} is deleted`, {
    work: async () => {
      await ask(api.POST('/api/scales', { body: { name, mastery_level, levels } }))
      await refresh()
    },
    undone: `${name} is in the library`,
  })
}

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
          <LinkButton bare :to="{ name: 'outcomes', params: { classId } }"
            >Back to outcomes</LinkButton
          >
          <NButton @click="choosing = !choosing"> New scale <kbd>A</kbd> </NButton>
        </div>
      </div>
      <Notice v-if="choosing" class="begin" role="group" aria-label="Begin a scale">
        Begin from
        <NButton v-for="preset in presets" :key="preset.levels.length" @click="begin(preset)">
          {{ preset.levels.length }} levels
        </NButton>
        or <NButton @click="begin(null)">nothing</NButton>
      </Notice>
      <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
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
              <Tag v-if="klass?.scale_id === one.id">for new outcomes of this class</Tag>
              <Tag v-if="one.own">yours</Tag>
            </p>
            <div class="row actions">
              <NButton @click="choose(one.id)">
                {{ one.changeable ? 'Change' : 'Look'
                }}<span class="visually-hidden"> {{ one.name }}</span>
              </NButton>
              <NButton quaternary @click="copy(one)">
                Copy<span class="visually-hidden"> {{ one.name }}</span>
              </NButton>
              <NButton
                v-if="klass && klass.scale_id !== one.id"
                quaternary
                @click="takeForClass(one)"
              >
                Use for new outcomes<span class="visually-hidden">: {{ one.name }}</span>
              </NButton>
              <NButton
                v-if="one.changeable && !one.outcomes && !one.classes"
                quaternary
                @click="remove(one)"
              >
                Remove<span class="visually-hidden"> {{ one.name }}</span>
              </NButton>
            </div>
          </div>
        </li>
      </ul>
    </div>
    <SidePanel v-if="start || chosen" label="Scale" open @close="choose(null)">
      <ScaleForm
        :key="chosen?.id ?? `new ${start?.levels.length} ${start?.name}`"
        :scale="chosen"
        :start="start ?? NOTHING"
        :scales="scales ?? []"
        :cut="cut"
        @made="choose"
        @close="choose(null)"
      />
    </SidePanel>
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
