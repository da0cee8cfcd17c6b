import { useQueryCache } from '@pinia/colada'
import { useDebounceFn } from '@vueuse/core'
import { computed, nextTick, reactive, ref, toRaw, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import { keys } from '@/shared/queries'
import type { RubricOut } from '@/api/schema'
import { toBody, toDraft, type DraftCell, type DraftCriterion } from './criteria'
import { useSteps } from './useSteps'

export interface Draft {
  title: string
  points_shown: boolean
  criteria: DraftCriterion[]
}

export type SaveState = 'saved' | 'waiting' | 'saving' | 'refused' | 'gone' | 'stale'

/** A rubric being edited: the draft is local and saved as it grows; the server works the rest out. */
export function useRubric(rubricId: number) {
  const cache = useQueryCache()
  const server = ref<RubricOut | null>(null)
  const draft = reactive<Draft>({ title: '', points_shown: true, criteria: [] })
  const state = ref<SaveState>('saved')
  const problem = ref<Problem | null>(null)
  const loadError = ref<Problem | null>(null)
  let adopted = ''

  const params = { path: { rubric_id: rubricId } }
  /** What is written, as text; cells at their default are the server's, and left out. */
  const written = computed(() =>
    JSON.stringify(draft, (key, value: unknown) =>
      key === 'cells' ? (value as DraftCell[]).map((cell) => (cell.by_hand ? cell : null)) : value,
    ),
  )
  const steps = useSteps(written, (text) => {
    const before = JSON.parse(text) as Draft
    for (const criterion of before.criteria) {
      for (const tie of criterion.alignments) {
        tie.cells = tie.cells.map(
          (cell) => (cell as DraftCell | null) ?? { value: '', by_hand: false },
        )
      }
    }
    Object.assign(draft, before)
    if (server.value) takeDefaults(server.value)
  })

  function adopt(rubric: RubricOut, replaceDraft: boolean) {
    server.value = rubric
    if (replaceDraft) {
      draft.title = rubric.title
      draft.points_shown = rubric.points_shown
      draft.criteria = rubric.criteria.map(toDraft)
    } else {
      takeDefaults(rubric)
    }
    adopted = written.value
  }

  /** Let cells that follow the default show what the server worked out. */
  function takeDefaults(rubric: RubricOut) {
    for (const criterion of draft.criteria) {
      const answered = rubric.criteria.find((one) => one.key === criterion.key)
      for (const tie of criterion.alignments) {
        const cells = answered?.alignments.find((one) => one.outcome_id === tie.outcome_id)?.cells
        tie.cells.forEach((cell, index) => {
          if (!cell.by_hand) cell.value = cells?.[index]?.value ?? ''
        })
      }
    }
  }

  async function load() {
    loadError.value = null
    try {
      adopt(await ask(api.GET('/api/rubrics/{rubric_id}', { params })), true)
      unanswered = null
      await nextTick()
      steps.begin()
      state.value = 'saved'
      problem.value = null
    } catch (error) {
      loadError.value = asProblem(error)
    }
  }

  let saving: Promise<boolean> | null = null
  /** What was sent and not answered: the server may have it, so that it is sent again as it was. */
  let unanswered: { text: string; body: ReturnType<typeof body> } | null = null
  /** An operation that the server is at: it makes a new version, so that saves wait for it. */
  let operating: Promise<boolean> | null = null

  /** Save what is written; what is typed meanwhile is saved after it. Give whether all is saved. */
  async function save(): Promise<boolean> {
    while (operating) await operating
    return saveWritten()
  }

  async function saveWritten(): Promise<boolean> {
    while (server.value && !server.value.final && (unanswered || written.value !== adopted)) {
      saving ??= saveOnce().finally(() => (saving = null))
      // Saved, but for what was typed meanwhile: on with that.
      if (!(await saving)) return false
    }
    return true
  }

  async function saveOnce(): Promise<boolean> {
    if (!server.value) return false
    state.value = 'saving'
    unanswered ??= { text: written.value, body: body(server.value.version) }
    const sent = unanswered.text
    try {
      const answer = await ask(
        api.PUT('/api/rubrics/{rubric_id}', { params, body: unanswered.body }),
      )
      unanswered = null
      problem.value = null
      const unchanged = written.value === sent
      server.value = answer
      if (unchanged) adopt(answer, false)
      else adopted = sent
      state.value = unchanged ? 'saved' : 'waiting'
      void cache.invalidateQueries({ key: keys.rubrics }, 'all')
      return true
    } catch (error) {
      const caught = asProblem(error)
      problem.value = caught
      if (!caught.gone) unanswered = null
      state.value = caught.gone ? 'gone' : caught.stale ? 'stale' : 'refused'
      if (caught.gone) setTimeout(() => void save(), 3000)
      return false
    }
  }

  const soon = useDebounceFn(save, 500)
  watch(written, (now) => {
    if (!server.value || server.value.final) return
    if (now === adopted && !unanswered) {
      // Back at what is saved: what was refused is gone.
      if (state.value === 'refused') {
        state.value = 'saved'
        problem.value = null
      }
      return
    }
    if (state.value !== 'saving' && state.value !== 'stale') state.value = 'waiting'
    if (state.value !== 'stale') void soon()
  })

  const body = (version: number) => ({
    version,
    title: draft.title,
    points_shown: draft.points_shown,
    criteria: toRaw(draft).criteria.map(toBody),
  })

  let operations: Promise<unknown> = Promise.resolve()

  /** Save first, then do an operation on the server that gives the rubric anew; one after the other. */
  function then(operation: (version: number) => Promise<RubricOut>): Promise<boolean> {
    const done = operations.then(() => operate(operation))
    operations = done
    return done
  }

  async function operate(operation: (version: number) => Promise<RubricOut>): Promise<boolean> {
    if (!(await saveWritten()) || !server.value) return false
    operating = run(operation(server.value.version)).finally(() => (operating = null))
    return operating
  }

  async function run(operation: Promise<RubricOut>): Promise<boolean> {
    const before = written.value
    try {
      const answer = await operation
      problem.value = null
      if (written.value === before) {
        adopt(answer, true)
        state.value = 'saved'
      } else {
        keepTyped(answer)
      }
      void cache.invalidateQueries({ key: keys.rubrics }, 'all')
      if (answer.final) void cache.invalidateQueries({ key: keys.classes })
      return true
    } catch (error) {
      problem.value = asProblem(error)
      if (problem.value.stale) state.value = 'stale'
      return false
    }
  }

  /** What was typed while an operation was under way stays, with the weights that the operation gave. */
  function keepTyped(answer: RubricOut) {
    server.value = answer
    for (const criterion of draft.criteria) {
      const answered = answer.criteria.find((one) => one.key === criterion.key)
      if (answered) criterion.weight = answered.weight
    }
    state.value = 'waiting'
    void soon()
  }

  void load()
  return { server, draft, state, problem, loadError, load, save, then, steps }
}
