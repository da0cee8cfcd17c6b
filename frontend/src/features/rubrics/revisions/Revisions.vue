<script setup lang="ts">
import { say } from '@/design/telling/messages'
import Notice from '@/design/telling/Notice.vue'
import Tag from '@/design/controls/Tag.vue'
import LinkButton from '@/design/controls/LinkButton.vue'
import { NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import QueryState from '@/design/telling/QueryState.vue'
import { several } from '@/design/format'
import CriterionSide from './CriterionSide.vue'
import RevisionEffects from './RevisionEffects.vue'
import RevisionPick from './RevisionPick.vue'
import { useRevisions } from './useRevisions'
import { usePageTitle } from '@/shared/pageTitle'

/** Two revisions side by side, and what putting tasks on the newer one does. */
const props = defineProps<{ classId: number; rubricId: number }>()
const router = useRouter()
const it = useRevisions(props.rubricId)
const { old, wanted, here, working, chosen, problem, busy } = it
const { data: rubric, error, isPending, refetch } = it.rubric
const { data: sides } = it.sides
const { data: effects, error: effectsError, refetch: again } = it.effects
const onlyChanged = ref(true)

const target = computed(() => sides.value?.revisions.find((one) => one.number === sides.value?.new))
const draft = computed(() => target.value !== undefined && !target.value.final_at)
const codes = computed(
  () => new Map((rubric.value?.outcomes ?? []).map((one) => [one.id, one.code])),
)
const words = (one: unknown) =>
  JSON.stringify(one, (key, value: unknown) => (key === 'id' ? undefined : value))
const differs = computed(() =>
  (sides.value?.criteria ?? []).map((one) => words(one.old) !== words(one.new)),
)
const alike = computed(() => differs.value.filter((one) => !one).length)

async function apply() {
  const moved = chosen.value?.length ?? 0
  const onlyWords = effects.value?.only_words
  const number = target.value?.number
  const back = await it.apply()
  if (!back) return
  if (onlyWords) say('The words are changed, for every task')
  else if (!moved) say(`Revision ${number} is final; tasks keep theirs`)
  else {
    say(`${several(moved, 'task is', 'tasks are')} marked by revision ${number} now`, {
      work: async () => {
        await back()
        // To where the tasks were chosen; the rubric's page would show what was before.
        if (router.currentRoute.value.name === 'rubric') {
          await router.push({ name: 'revisions', params: props })
        }
      },
      undone: `${several(moved, 'task is', 'tasks are')} marked as before, every mark as it was`,
    })
  }
  // Only then: a draft that was not needed is gone, and with it what this page showed.
  await router.push({ name: 'rubric', params: props })
  await it.forget()
}
usePageTitle(() => rubric.value && `Revisions of ${rubric.value.title}`)
</script>

<template>
  <QueryState
    v-if="!rubric || !sides"
    class="page"
    :error="error"
    :pending="isPending"
    @again="refetch()"
  />
  <div v-else class="page">
    <div class="page-head">
      <h1>{{ rubric.title }}</h1>
      <RevisionPick
        label="Revision"
        name="The one revision"
        :number="sides.old"
        :revisions="sides.revisions"
        @pick="old = $event"
      />
      <RevisionPick
        label="beside"
        name="The other revision"
        :number="sides.new"
        :revisions="sides.revisions"
        @pick="wanted = $event"
      />
      <div class="actions">
        <LinkButton :to="{ name: 'rubric', params: props }">Back to the rubric</LinkButton>
      </div>
    </div>
    <Notice v-if="problem" clay role="alert">
      <template v-if="problem.errors.length > 1">
        <span v-for="one in problem.errors" :key="one.field + one.message" class="block">{{
          one.message
        }}</span>
      </template>
      <template v-else>{{ problem.message }}</template>
    </Notice>
    <QueryState v-if="!here" :error="effectsError" :pending="!effectsError" @again="again()" />
    <Notice v-else-if="draft && rubric.missing.length" clay>
      <p>
        <b>Before revision {{ sides.new }} can be applied:</b>
      </p>
      <p v-for="one in rubric.missing" :key="one.field + one.message" class="small">
        {{ one.message }}
      </p>
    </Notice>
    <RevisionEffects
      v-if="here && effects && (effects.only_words || effects.tasks.length || draft)"
      :effects="effects"
      :to="sides.new"
      :draft="draft"
      :chosen="chosen ?? []"
      :working="working"
      :ready="!busy && !(draft && rubric.missing.length)"
      @choose="it.choose"
      @apply="apply"
    />
    <div class="row sides-head">
      <h2>Side by side</h2>
      <NCheckbox
        v-if="alike && alike < sides.criteria.length"
        class="small push"
        v-model:checked="onlyChanged"
        >Only what differs ({{ alike }} {{ alike === 1 ? 'criterion is' : 'criteria are' }} the
        same)</NCheckbox
      >
    </div>
    <p v-if="alike === sides.criteria.length" class="quiet">These two are the same.</p>
    <div class="sides heads small quiet" aria-hidden="true">
      <span>Revision {{ sides.old }}</span
      ><span>Revision {{ sides.new }}</span>
    </div>
    <template v-for="(one, index) in sides.criteria" :key="index">
      <section
        v-if="differs[index] || !onlyChanged || alike === sides.criteria.length"
        class="pair"
        :aria-label="one.title"
      >
        <p v-if="differs[index]" class="small told">
          <Tag v-for="what in one.structure" :key="what">{{ what }}</Tag>
          <Tag v-if="!one.structure.length">only words</Tag>
        </p>
        <div class="sides">
          <CriterionSide
            :criterion="one.old"
            :other="one.new"
            :codes="codes"
            :newer="false"
            :revision="sides.old"
          />
          <CriterionSide
            :criterion="one.new"
            :other="one.old"
            :codes="codes"
            newer
            :revision="sides.new"
          />
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.block {
  display: block;
}
.notice {
  margin-bottom: 12px;
}
.sides-head {
  margin-top: 20px;
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.heads {
  padding: 4px 12px;
  gap: 12px;
}
.pair {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: var(--r);
  margin-bottom: 10px;
}
.told {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  padding: 8px 12px 0;
}
@media (max-width: 700px) {
  .sides {
    grid-template-columns: 1fr;
  }
  .heads {
    display: none;
  }
}
</style>
