import { useQueryCache } from '@pinia/colada'
import { useDebounceFn } from '@vueuse/core'
import { computed, reactive, ref, toRaw, watch } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { CriterionKind, CriterionOut, RubricOut } from '@/api/schema'

/** A cell as edited: by hand with what was typed ("" says nothing), or the default. */
export interface DraftCell {
  value: string
  by_hand: boolean
}

export interface DraftCriterion {
  key: string
  title: string
  kind: CriterionKind
  bonus: boolean
  half_way: boolean
  weight: string | null
  levels: { key: string; name: string; points: string; descriptor: string }[]
  alignments: { outcome_id: number; weight: number; cells: DraftCell[] }[]
}

export type SaveState = 'saved' | 'waiting' | 'saving' | 'refused' | 'gone' | 'stale'

/** A rubric being edited: the draft is local and saved as it grows; the server works the rest out. */
export function useRubric(rubricId: number) {
  const cache = useQueryCache()
  const server = ref<RubricOut | null>(null)
  const draft = reactive({ title: '', criteria: [] as DraftCriterion[] })
  const state = ref<SaveState>('saved')
  const problem = ref<Problem | null>(null)
  const loadError = ref<Problem | null>(null)
  let adopted = ''

  const params = { path: { rubric_id: rubricId } }
  const written = computed(() => JSON.stringify(draft))

  function adopt(rubric: RubricOut, replaceDraft: boolean) {
    server.value = rubric
    if (replaceDraft) {
      draft.title = rubric.title
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
      state.value = 'saved'
      problem.value = null
    } catch (error) {
      loadError.value = asProblem(error)
    }
  }

  /** Save what is written; what is typed meanwhile is saved after it. Give whether all is saved. */
  async function save(): Promise<boolean> {
    if (!server.value || server.value.final || written.value === adopted) return true
    if (state.value === 'saving') return false
    state.value = 'saving'
    const sent = written.value
    try {
      const answer = await ask(
        api.PUT('/api/rubrics/{rubric_id}', {
          params,
          body: {
            version: server.value.version,
            title: draft.title,
            criteria: toRaw(draft).criteria.map(toBody),
          },
        }),
      )
      problem.value = null
      const unchanged = written.value === sent
      server.value = answer
      if (unchanged) adopt(answer, false)
      else adopted = sent
      state.value = unchanged ? 'saved' : 'waiting'
      if (!unchanged) void soon()
      void cache.invalidateQueries({ key: ['rubrics'] }, 'all')
      return unchanged
    } catch (error) {
      const caught = asProblem(error)
      problem.value = caught
      state.value = caught.gone ? 'gone' : caught.stale ? 'stale' : 'refused'
      if (caught.gone) setTimeout(() => void save(), 3000)
      return false
    }
  }

  const soon = useDebounceFn(save, 500)
  watch(written, (now) => {
    if (!server.value) return
    if (now === adopted) {
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

  /** Save first, then do a deed on the server that gives the rubric anew. */
  async function then(deed: (version: number) => Promise<RubricOut>): Promise<boolean> {
    if (!(await save()) || !server.value) return false
    try {
      adopt(await deed(server.value.version), true)
      problem.value = null
      state.value = 'saved'
      void cache.invalidateQueries({ key: ['rubrics'] }, 'all')
      return true
    } catch (error) {
      problem.value = asProblem(error)
      if (problem.value.stale) state.value = 'stale'
      return false
    }
  }

  void load()
  return { server, draft, state, problem, loadError, load, save, then }
}

function toDraft(criterion: CriterionOut): DraftCriterion {
  return {
    key: criterion.key,
    title: criterion.title,
    kind: criterion.kind,
    bonus: criterion.bonus,
    half_way: criterion.half_way,
    weight: criterion.weight,
    levels: criterion.levels.map(({ key, name, points, descriptor }) => ({
      key,
      name,
      points,
      descriptor,
    })),
    alignments: criterion.alignments.map(({ outcome_id, weight, cells }) => ({
      outcome_id,
      weight,
      cells: cells.map((cell) => ({ value: cell.value ?? '', by_hand: cell.by_hand })),
    })),
  }
}

function toBody(criterion: DraftCriterion) {
  return {
    ...criterion,
    weight: criterion.weight?.trim() ? criterion.weight : null,
    alignments: criterion.alignments.map((tie) => ({
      ...tie,
      cells: tie.cells.map((cell) => (cell.by_hand ? { value: cell.value.trim() || null } : null)),
    })),
  }
}

/** A new key for a criterion or level, the same for it in every revision. */
export function newKey(): string {
  return crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2)}`
}
