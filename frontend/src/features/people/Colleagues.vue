<script setup lang="ts">
import { NButton, NTable } from 'naive-ui'
import { useQuery } from '@pinia/colada'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import type { AccountOut } from '@/api/schema'
import Menu from '@/design/controls/Menu.vue'
import Tag from '@/design/controls/Tag.vue'
import { useKeys } from '@/design/keys'
import { several } from '@/design/format'
import Notice from '@/design/telling/Notice.vue'
import QueryState from '@/design/telling/QueryState.vue'
import { say } from '@/design/telling/messages'
import { useSending } from '@/shared/forms/useSending'
import { useNameOrder } from '@/shared/order'
import { usePageTitle } from '@/shared/pageTitle'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import AddColleagues from './AddColleagues.vue'
import AssignClass from './AssignClass.vue'
import InvitationLinks, { type Invitation } from './InvitationLinks.vue'

/** The teachers of the school, for its administrators. */
const { data: session } = useSession()
const refresh = useRefresh().account
const { data, error, isPending, refetch } = useQuery({
  key: keys.accounts,
  query: () => ask(api.GET('/api/colleagues/accounts')),
})
const { data: untaught } = useQuery({
  key: keys.untaughtClasses,
  query: () => ask(api.GET('/api/colleagues/classes-without-teacher')),
})
const { byName } = useNameOrder()
const accounts = computed(() => byName(data.value ?? []))
const { problem, send } = useSending(refresh)
const adding = ref(false)
const links = ref<Invitation[]>([])
/** A class that is to be given to somebody else. */
const assigning = ref<{ id: number; name: string } | null>(null)

const path = (one: AccountOut) => ({ params: { path: { person_id: one.id } } })

async function invited(added: Invitation[]) {
  adding.value = false
  links.value = added
  await refresh()
}

async function newLink(one: AccountOut) {
  let token = ''
  const done = await send(async () => {
    token = (await ask(api.POST('/api/colleagues/{person_id}/link', path(one)))).token
  })
  if (done) links.value = [{ id: one.id, name: one.name, token }]
}

const setAdministrator = (one: AccountOut, administrator: boolean) =>
  ask(
    api.PUT('/api/colleagues/{person_id}/administrator', {
      ...path(one),
      body: { administrator },
    }),
  )
const setEnded = (one: AccountOut, ended: boolean) =>
  ask(api.PUT('/api/colleagues/{person_id}/ended', { ...path(one), body: { ended } }))

/** Do something that can be undone by its opposite. */
async function change(
  work: (way: boolean) => Promise<unknown>,
  way: boolean,
  said: string,
  undone: string,
) {
  if (!(await send(() => work(way)))) return
  say(said, {
    work: async () => {
      await work(!way)
      await refresh()
    },
    undone,
  })
}

function items(one: AccountOut) {
  const administers = one.administrator
  if (one.ended_at) {
    return [
      {
        text: 'Restore the account',
        act: () =>
          change(
            (ended) => setEnded(one, ended),
            false,
            `${one.name} can sign in again`,
            `The account of ${one.name} is ended`,
          ),
      },
    ]
  }
  return [
    { text: one.joined ? 'Link for a new password' : 'New link to join', act: () => newLink(one) },
    {
      text: administers ? 'No longer an administrator' : 'Make an administrator',
      act: () =>
        change(
          (way) => setAdministrator(one, way),
          !administers,
          `${one.name} is ${administers ? 'no longer' : 'now'} an administrator`,
          `${one.name} is ${administers ? 'an administrator again' : 'not an administrator'}`,
        ),
    },
    ...one.classes
      .filter((klass) => klass.responsible)
      .map((klass) => ({
        text: `Hand over ${klass.name}`,
        act: () => (assigning.value = { id: klass.id, name: klass.name }),
      })),
    {
      text: 'End the account',
      act: () =>
        change(
          (ended) => setEnded(one, ended),
          true,
          `The account of ${one.name} is ended; all they made is kept`,
          `${one.name} can sign in again; give them their classes back`,
        ),
    },
  ]
}

function taught(one: AccountOut) {
  return one.classes.map((klass) => klass.name).join(', ')
}

useKeys('Colleagues', [
  { keys: ['a'], does: 'Add colleagues', run: () => void (adding.value = true) },
])
usePageTitle('Colleagues')
</script>

<template>
  <div class="page wide">
    <div class="page-head">
      <h1>Colleagues</h1>
      <span v-if="data" class="quiet">{{ several(data.length, 'teacher') }}</span>
      <div class="actions">
        <NButton type="primary" @click="adding = true">Add colleagues <kbd>A</kbd></NButton>
      </div>
    </div>
    <Notice v-if="problem" clay role="alert">{{ problem.message }}</Notice>
    <AddColleagues v-if="adding" @done="invited" @cancel="adding = false" />
    <InvitationLinks v-if="links.length" :links="links" @close="links = []" />
    <AssignClass
      v-if="assigning"
      :klass="assigning"
      :teachers="accounts.filter((one) => !one.ended_at)"
      @done="((assigning = null), refresh())"
      @cancel="assigning = null"
    />
    <QueryState :error="error" :pending="isPending" @again="refetch()" />
    <div v-if="data" class="table-scroll">
      <NTable class="list" size="small">
        <thead>
          <tr>
            <th>Name</th>
            <th class="mail">E-mail</th>
            <th>Classes</th>
            <th><span class="visually-hidden">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in accounts" :key="one.id">
            <td>
              {{ one.name }}
              <Tag v-if="one.id === session?.person?.id">you</Tag>
              <Tag v-if="one.administrator">administrator</Tag>
              <Tag v-if="one.ended_at">account ended</Tag>
              <Tag v-else-if="!one.joined" tone="clay">has not joined yet</Tag>
            </td>
            <td class="quiet mail">{{ one.email }}</td>
            <td>{{ taught(one) || '–' }}</td>
            <td class="num"><Menu :label="`More on ${one.name}`" small :items="items(one)" /></td>
          </tr>
        </tbody>
      </NTable>
    </div>
    <section v-if="untaught?.length" class="untaught">
      <h2>Classes without a teacher</h2>
      <p class="small quiet">
        Their teachers have left. Hand each over to somebody who looks after it.
      </p>
      <ul>
        <li v-for="one in untaught" :key="one.id">
          {{ one.name }} <Tag v-if="one.set_aside">set aside</Tag>
          <NButton class="push" size="small" @click="assigning = one">Hand over</NButton>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.wide {
  max-width: 1000px;
}
.untaught {
  margin-top: 24px;
}
.untaught ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}
.untaught li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
td .tag {
  margin-left: 6px;
}
@media (max-width: 560px) {
  .mail {
    display: none;
  }
}
</style>
