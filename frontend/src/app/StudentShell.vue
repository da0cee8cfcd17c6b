<script setup lang="ts">
import { NButton } from 'naive-ui'
import { defineAsyncComponent, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { deleteUnsent, hasUnsent } from '@/shared/student/writing'
import { useOwnTasks } from '@/shared/student/ownTasks'
import { useSession } from '@/shared/session'
import Brand from './Brand.vue'
import { useLeaving } from './useLeaving'

const UnsavedWriting = defineAsyncComponent(() => import('./UnsavedWriting.vue'))

/** What stands round a student's pages: three places, and the way out. */
const route = useRoute()
const { data: session } = useSession()
const { due, fresh } = useOwnTasks()
const leaving = useLeaving()
const asking = ref(false)
const PLACES = [
  { name: 'my-work', label: 'My work', also: ['my-task'] },
  { name: 'my-results', label: 'Handed back', also: ['my-result'] },
  { name: 'my-ladder', label: 'My ladder', also: [] },
]
const isOn = (place: (typeof PLACES)[number]) =>
  route.name === place.name || place.also.includes(String(route.name))

function signOut() {
  if (hasUnsent()) asking.value = true
  else void leaving.signOut(false)
}
function deleteAndSignOut() {
  deleteUnsent()
  void leaving.signOut(true)
}
// Needed to sign out while the server does not answer.
onMounted(() => Promise.all([import('./SignIn.vue'), import('./UnsavedWriting.vue')]))
</script>

<template>
  <div class="shell">
    <a class="skip" href="#content">To the content</a>
    <header class="top">
      <RouterLink to="/my" class="home" aria-label="Jade Ladder: my work"><Brand /></RouterLink>
      <nav aria-label="My pages">
        <RouterLink
          v-for="place in PLACES"
          :key="place.name"
          :to="{ name: place.name }"
          :class="{ on: isOn(place) }"
          :aria-current="isOn(place) ? 'page' : undefined"
        >
          {{ place.label }}
          <b v-if="place.name === 'my-work' && due.length" class="count clay"
            >{{ due.length }} due</b
          >
          <b v-if="place.name === 'my-results' && fresh.length" class="count"
            >{{ fresh.length }} new</b
          >
        </RouterLink>
      </nav>
      <span class="who who-am-i small">
        <RouterLink :to="{ name: 'my-account' }">{{ session?.person?.name }}</RouterLink>
        <NButton class="link" text @click="signOut">Sign out</NButton>
      </span>
    </header>
    <main id="content" tabindex="-1">
      <RouterView v-if="session?.person" v-slot="{ Component }">
        <component :is="Component" v-if="Component" :key="route.fullPath" />
      </RouterView>
    </main>
    <UnsavedWriting v-if="asking" v-model:show="asking" @delete="deleteAndSignOut" />
  </div>
</template>

<style scoped>
.top {
  min-height: 56px;
  display: flex;
  align-items: center;
  gap: 20px;
  padding: 0 20px;
  background: var(--card);
  border-bottom: 1px solid var(--line);
}
.home {
  text-decoration: none;
}
nav {
  display: flex;
  align-self: stretch;
  margin: 0 auto;
}
nav a {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 14px;
  text-decoration: none;
  color: var(--ink-2);
  border-bottom: 3px solid transparent;
  white-space: nowrap;
}
nav a.on {
  color: var(--ink);
  font-weight: 650;
  border-bottom-color: var(--ink);
}
.count {
  border-radius: 99px;
  padding: 0 8px;
  font-size: 12px;
  font-weight: 650;
  background: var(--slate-wash);
  color: var(--ink-2);
}
.count.clay {
  background: var(--clay-wash);
  color: var(--clay);
}
main:focus {
  outline: 0;
}
@media (max-width: 640px) {
  .top {
    justify-content: space-between;
  }
  /* At the bottom, where a thumb reaches. */
  nav {
    position: fixed;
    inset: auto 0 0;
    margin: 0;
    height: 58px;
    background: var(--card);
    border-top: 1px solid var(--line);
    z-index: 5;
  }
  nav a {
    flex: 1;
    justify-content: center;
    padding: 0 4px;
    border-bottom: 0;
    border-top: 3px solid transparent;
    flex-wrap: wrap;
    gap: 0 6px;
    align-content: center;
  }
  nav a.on {
    border-top-color: var(--ink);
  }
  main {
    padding-bottom: 70px;
  }
}
@media print {
  .top {
    display: none;
  }
}
</style>
