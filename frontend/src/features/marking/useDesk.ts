import { useQueryCache } from '@pinia/colada'
import { computed, onScopeDispose, reactive, ref, shallowRef } from 'vue'
import { classesKey } from '@/app/classes'
import { useSession } from '@/app/session'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ChoiceOut, CriterionOut, DeskOut, StudentMarkOut } from '@/api/schema'
import { SaveQueue, type Save, type SaveState } from './saves'

/** A choice that another tab made differently, waiting for the teacher to decide. */
export interface Conflict {
  save: Save
  message: string
}

type Choosing = Pick<ChoiceOut, 'level_id' | 'half_way' | 'not_assessed'>

/** The marking desk of one task: every choice is seen at once and saved behind it. */
export function useDesk(taskId: number) {
  const cache = useQueryCache()
  const { data: session } = useSession()
  const desk = shallowRef<DeskOut | null>(null)
  const loadError = ref<Problem | null>(null)
  const marks = reactive(new Map<number, StudentMarkOut>())
  const markErrors = reactive(new Map<number, Problem>())
  const saveState = ref<SaveState>('idle')
  const waiting = ref(0)
  const refusal = ref<Problem | null>(null)
  const conflict = ref<Conflict | null>(null)
  const toMark = ref(0)
  const where = reactive(new Map<number, StudentMarkOut['student']>())

  const queue = new SaveQueue<StudentMarkOut>({
    storageKey: `jade-ladder.waiting.${session.value?.person?.id ?? 0}.${taskId}`,
    send,
    versionOf: (answer) => answer.version,
    answered: (save, answer) => take(save.studentId, answer),
    refused,
    changed(state, count) {
      saveState.value = state
      waiting.value = count
    },
  })

  async function load() {
    loadError.value = null
    try {
      const found = await ask(
        api.GET('/api/tasks/{task_id}/desk', { params: { path: { task_id: taskId } } }),
      )
      desk.value = found
      toMark.value = found.task.to_mark
      for (const student of found.task.where) where.set(student.id, student)
      void queue.run()
    } catch (error) {
      loadError.value = asProblem(error)
    }
  }

  /** Fetch a student's mark unless it is here. */
  async function fetchMark(studentId: number, anew = false) {
    if (marks.has(studentId) && !anew) return
    try {
      markErrors.delete(studentId)
      const answer = await ask(
        api.GET('/api/tasks/{task_id}/students/{student_id}/mark', {
          params: { path: { task_id: taskId, student_id: studentId } },
        }),
      )
      // A second answer to the same question may be older than what was saved since the first.
      if (anew || !marks.has(studentId)) take(studentId, answer)
    } catch (error) {
      markErrors.set(studentId, asProblem(error))
    }
  }

  /** Take what the server says, and lay what still waits over it. */
  function take(studentId: number, answer: StudentMarkOut) {
    marks.set(studentId, answer)
    where.set(studentId, answer.student)
    toMark.value = answer.to_mark
    for (const save of queue.saves) if (save.studentId === studentId) lay(save)
  }

  function lay(save: Save) {
    const mark = marks.get(save.studentId)
    if (!mark) return
    if (save.kind === 'choice') {
      const { level_id, half_way, not_assessed } = save
      const choice = { criterion_id: save.criterionId!, level_id, half_way, not_assessed }
      mark.choices = [
        ...mark.choices.filter((one) => one.criterion_id !== save.criterionId),
        choice,
      ]
      mark.finished = false
    } else if (save.kind === 'remark') {
      mark.remarks = [
        ...mark.remarks.filter((one) => one.criterion_id !== save.criterionId),
        { criterion_id: save.criterionId, text: save.text },
      ]
    } else {
      // Finished as far as the desk is concerned: who waits next is known without an answer.
      mark.finished = true
      const student = where.get(save.studentId)
      if (student && student.state !== 'done') {
        where.set(save.studentId, { ...student, state: 'done', left: 0 })
        if (student.state !== 'missing' && student.state !== 'excused') toMark.value -= 1
      }
    }
  }

  function send(save: Save): Promise<StudentMarkOut> {
    const path = { task_id: save.taskId, student_id: save.studentId }
    const { version, text } = save
    if (save.kind === 'finish') {
      return ask(
        api.POST('/api/tasks/{task_id}/students/{student_id}/finish', { params: { path } }),
      )
    }
    if (save.kind === 'choice') {
      const { level_id, half_way, not_assessed } = save
      return ask(
        api.PUT('/api/tasks/{task_id}/students/{student_id}/choices/{criterion_id}', {
          params: { path: { ...path, criterion_id: save.criterionId! } },
          body: { level_id, half_way, not_assessed, version },
        }),
      )
    }
    if (save.criterionId === null) {
      return ask(
        api.PUT('/api/tasks/{task_id}/students/{student_id}/remark', {
          params: { path },
          body: { text, version },
        }),
      )
    }
    return ask(
      api.PUT('/api/tasks/{task_id}/students/{student_id}/remarks/{criterion_id}', {
        params: { path: { ...path, criterion_id: save.criterionId } },
        body: { text, version },
      }),
    )
  }

  function refused(save: Save, problem: Problem) {
    if (problem.stale) conflict.value = { save, message: problem.message }
    else refusal.value = problem
    void fetchMark(save.studentId, true)
  }

  function add(studentId: number, save: Partial<Save> & Pick<Save, 'kind'>) {
    refusal.value = null
    const whole: Save = {
      taskId,
      studentId,
      criterionId: null,
      level_id: null,
      half_way: false,
      not_assessed: false,
      text: '',
      version: marks.get(studentId)?.version ?? 0,
      ...save,
    }
    lay(whole)
    queue.add(whole)
  }

  const choose = (studentId: number, criterionId: number, choice: Choosing) =>
    add(studentId, { kind: 'choice', criterionId, ...choice })

  function remark(studentId: number, criterionId: number | null, text: string) {
    const now = marks.get(studentId)?.remarks.find((one) => one.criterion_id === criterionId)
    if ((now?.text ?? '') !== text.trim()) add(studentId, { kind: 'remark', criterionId, text })
  }

  const finish = (studentId: number) => add(studentId, { kind: 'finish' })

  /** Decide a conflict: mine is sent again over what is there; theirs stays. */
  function decide(mine: boolean) {
    const decided = conflict.value
    conflict.value = null
    if (decided && mine) {
      const { save } = decided
      add(save.studentId, { ...save, version: marks.get(save.studentId)?.version ?? save.version })
    }
  }

  /** The criteria of a student's mark that still need a choice, as seen here. */
  function left(studentId: number): CriterionOut[] {
    const mark = marks.get(studentId)
    const chosen = new Set(
      mark?.choices
        .filter((one) => one.level_id !== null || one.not_assessed)
        .map((one) => one.criterion_id),
    )
    return (desk.value?.criteria ?? []).filter((one) => !one.bonus && !chosen.has(one.id))
  }

  onScopeDispose(() => {
    queue.stop()
    for (const key of [classesKey, ['tasks'], ['task', taskId], ['pile'], ['wall']]) {
      void cache.invalidateQueries({ key }, 'all')
    }
  })
  const scaleOf = computed(() => new Map(desk.value?.scales.map((scale) => [scale.id, scale])))
  const outcomeOf = computed(() => new Map(desk.value?.outcomes.map((one) => [one.id, one])))

  void load()
  return {
    desk,
    loadError,
    load,
    marks,
    markErrors,
    where,
    toMark,
    saveState,
    waiting,
    refusal,
    conflict,
    scaleOf,
    outcomeOf,
    fetchMark,
    choose,
    remark,
    finish,
    decide,
    left,
  }
}
