<script setup lang="ts">
import { NButton } from 'naive-ui'
import { NotebookPen, Search, Users } from '@lucide/vue'
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import WaitingSaves from '@/shared/saving/WaitingSaves.vue'
import { useSaves } from '@/shared/saving/useSaves'
import Brand from './Brand.vue'
import { useClasses } from '@/shared/classes'
import { useKeys } from '@/design/keys'
import { useNoting } from '@/shared/notes/useNoting'
import { useSession } from '@/shared/session'
import FirstSteps from './FirstSteps.vue'
import Notices from './Notices.vue'
import { keptBy } from '@/shared/recording/kept'
import { useLeaving } from './useLeaving'

const FindDialog = defineAsyncComponent(() => import('./FindDialog.vue'))
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'))
const NoteDialog = defineAsyncComponent(() => import('@/shared/notes/NoteDialog.vue'))
const SampleStrip = defineAsyncComponent(() => import('./SampleStrip.vue'))
const SignOutDialog = defineAsyncComponent(() => import('./SignOutDialog.vue'))

const route = useRoute()
const router = useRouter()
const { data: session } = useSession()
const { data: classes } = useClasses()
const leaving = useLeaving()
const saves = useSaves()
const signingOut = ref(false)
/** Spoken remarks that the server does not have yet. */
const recordings = ref(0)

/** Sign out at once, or ask first what becomes of what is not sent yet. */
async function signOut() {
  const person = session.value?.person?.id
  recordings.value = person ? (await keptBy(person).catch(() => [])).length : 0
  if (saves.waiting.length || saves.refused.length || recordings.value) signingOut.value = true
  else await leaving.signOut(false)
}

// Needed to sign out while the server does not answer.
onMounted(() => Promise.all([import('./SignIn.vue'), import('./SignOutDialog.vue')]))
watch(
  () => session.value?.person?.id,
  (person) => person && saves.open(person),
  { immediate: true },
)
const finding = ref(false)
const listing = ref(false)
const noting = useNoting()

const classId = computed(() => Number(route.params.classId) || null)
const klass = computed(() => classes.value?.find((one) => one.id === classId.value))
/** Those that are over are out of the list, unless one is looked at. */
const listed = computed(() =>
  (classes.value ?? []).filter((one) => !one.set_aside || one.id === classId.value),
)
const steps = [
  { name: 'outcomes', label: 'Outcomes', also: ['scales', 'outcome', 'coverage'] },
  { name: 'rubrics', label: 'Rubrics', also: ['rubric', 'revisions'] },
  { name: 'tasks', label: 'Tasks', also: ['task'] },
  { name: 'marking', label: 'Marking', also: ['desk'] },
  { name: 'mastery', label: 'Mastery', also: ['compare', 'class-over-term', 'all-classes'] },
] as const

function isOn(step: (typeof steps)[number]): boolean {
  return route.name === step.name || (step.also as readonly string[]).includes(String(route.name))
}

function choose(event: Event) {
  const chosen = (event.target as HTMLSelectElement).value
  if (!chosen) return void router.push('/')
  const keeps = steps.find(isOn)?.name ?? (route.name === 'students' ? 'students' : 'mastery')
  void router.push({ name: keeps, params: { classId: chosen } })
}

useKeys('Everywhere', [
  {
    keys: ['Ctrl+k'],
    does: 'Find any student, outcome, rubric or task',
    typing: true,
    run: () => void (finding.value = true),
  },
  {
    keys: ['w'],
    does: 'Write a note of what you saw',
    run: () => noting.open(classId.value ?? 0),
  },
  { keys: ['?'], does: 'List the keys that work here', run: () => void (listing.value = true) },
])
</script>

<template>
  <div>
    <a class="skip" href="#content">To the content</a>
    <header class="top">
      <RouterLink to="/" class="home" aria-label="Jade Ladder: today"><Brand /></RouterLink>
      <select
        v-if="classes?.length"
        class="input klass"
        aria-label="Class"
        :value="classId ?? ''"
        @change="choose"
      >
        <option value="">All my classes</option>
        <option v-for="one in listed" :key="one.id" :value="one.id">{{ one.name }}</option>
      </select>
      <RouterLink
        v-if="klass"
        class="list-link small"
        :class="{ on: route.name === 'students' }"
        :to="{ name: 'students', params: { classId: klass.id } }"
        :aria-current="route.name === 'students' ? 'page' : undefined"
      >
        <Users :size="17" aria-hidden="true" /><span>Class list</span>
      </RouterLink>
      <nav v-if="klass" class="steps" aria-label="The order of work">
        <template v-for="(step, index) in steps" :key="step.name">
          <i v-if="index" class="join" aria-hidden="true" />
          <RouterLink
            class="step"
            :class="{ on: isOn(step) }"
            :aria-current="isOn(step) ? 'page' : undefined"
            :to="{ name: step.name, params: { classId: klass.id } }"
          >
            {{ step.label }}
            <b v-if="step.name === 'marking' && klass.to_mark && !klass.set_aside"
              >{{ klass.to_mark }}<span class="visually-hidden"> to mark</span></b
            >
          </RouterLink>
        </template>
      </nav>
      <button class="find" type="button" aria-keyshortcuts="Control+K" @click="finding = true">
        <Search :size="15" aria-hidden="true" />
        <span class="visually-hidden">Find anything</span> <kbd>Ctrl K</kbd>
      </button>
      <button
        v-if="listed.length"
        class="find"
        type="button"
        aria-keyshortcuts="W"
        @click="noting.open(classId ?? 0)"
      >
        <NotebookPen :size="15" aria-hidden="true" />
        <span class="visually-hidden">Write a note</span> <kbd>W</kbd>
      </button>
      <span class="who who-am-i small">
        <RouterLink :to="{ name: 'account' }">{{ session?.person?.name }}</RouterLink>
        <NButton class="link" text @click="signOut">Sign out</NButton>
      </span>
    </header>
    <Notices v-if="session?.person" />
    <SampleStrip v-if="klass?.sample" :klass="klass" />
    <FirstSteps v-else-if="klass" :klass="klass" />
    <p v-if="klass?.set_aside" class="aside small" role="status">
      <b>{{ klass.name }} is set aside</b>: it can be looked at, and nothing in it is changed.
      <RouterLink :to="{ name: 'students', params: { classId: klass.id } }"
        >Take it up again on its class list</RouterLink
      >
    </p>
    <WaitingSaves v-if="route.name !== 'desk'" />
    <main id="content" tabindex="-1">
      <RouterView v-if="session" v-slot="{ Component }">
        <component
          :is="Component"
          v-if="Component"
          :key="`${String(route.name)} ${route.params.classId ?? ''} ${route.params.rubricId ?? ''} ${route.params.taskId ?? ''}`"
        />
      </RouterView>
    </main>
    <SignOutDialog
      v-if="signingOut"
      v-model:show="signingOut"
      :recordings="recordings"
      @leave="leaving.signOut"
    />
    <NoteDialog v-if="noting.show" />
    <FindDialog v-if="finding" v-model:show="finding" />
    <KeysDialog v-if="listing" v-model:show="listing" />
  </div>
</template>

<style scoped>
.aside {
  padding: 7px 20px;
  background: var(--sunk);
  border-bottom: 1px solid var(--line);
}
.top {
  min-height: 56px;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 20px;
  background: var(--card);
  border-bottom: 1px solid var(--line);
}
main:focus {
  outline: 0;
}
.home {
  text-decoration: none;
}
.klass {
  width: auto;
  max-width: 190px;
  text-overflow: ellipsis;
  border-color: var(--line);
}
.list-link {
  color: var(--ink-2);
  white-space: nowrap;
}
.list-link svg {
  display: none;
}
.list-link.on {
  color: var(--ink);
  font-weight: 650;
}
.steps {
  display: flex;
  align-items: center;
  margin: 0 auto;
  align-self: stretch;
}
.step {
  padding: 0 11px;
  align-self: stretch;
  display: flex;
  gap: 7px;
  align-items: center;
  color: var(--ink-2);
  text-decoration: none;
  border-block: 3px solid transparent;
}
.step:hover {
  color: var(--ink);
}
.step.on {
  border-bottom-color: var(--ink);
  color: var(--ink);
  font-weight: 650;
}
.step b {
  font-weight: 650;
  background: var(--clay-wash);
  color: var(--clay);
  border-radius: 99px;
  padding: 0 7px;
  font-size: 12px;
}
.join {
  width: 14px;
  height: 1px;
  background: var(--edge);
}
.find {
  display: inline-flex;
  gap: 7px;
  align-items: center;
  border: 1px solid var(--line);
  background: none;
  border-radius: var(--r);
  padding: 5px 9px;
  min-height: 34px;
  color: var(--ink-3);
  cursor: pointer;
  white-space: nowrap;
}
.top > .find:not(.steps + .find, .find + .find) {
  margin-left: auto;
}
.who .link {
  color: var(--ink-3);
}
@media (max-width: 1100px) {
  .top {
    flex-wrap: wrap;
    padding-block: 8px 0;
    row-gap: 4px;
  }
  .steps {
    order: 5;
    width: 100%;
    overflow-x: auto;
    height: 44px;
  }
  .find:not(.find + .find) {
    margin-left: auto !important;
  }
}
@media (max-width: 520px) {
  .find kbd {
    display: none;
  }
  .list-link {
    display: grid;
    place-items: center;
    min-width: 34px;
    min-height: 34px;
  }
  .list-link svg {
    display: block;
  }
  .list-link span {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  .top {
    padding-inline: 12px;
    gap: 10px;
  }
  .klass {
    max-width: 132px;
  }
  .who > span,
  .home :deep(.words) {
    display: none;
  }
  .steps {
    justify-content: space-between;
  }
  .step {
    padding: 0 4px;
    gap: 4px;
    font-size: 14px;
  }
  .step b {
    padding: 0 5px;
  }
  .join {
    display: none;
  }
}
</style>
