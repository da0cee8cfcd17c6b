import { computed, onScopeDispose, reactive, ref, shallowRef } from 'vue'
import { api, ask, asProblem, type Problem } from '@/api/client'
import type { ChoiceOut, CriterionOut, DeskOut, MarkOut, WorkAtDeskOut } from '@/api/schema'
import { isTap, type Save } from '@/shared/saving/saves'
import { useSaves } from '@/shared/saving/useSaves'
import { fetchAhead } from '@/shared/files/partFiles'
import { hasEntries } from '@/shared/kinds'

type Choosing = Pick<ChoiceOut, 'level_id' | 'half_way' | 'not_assessed'>

/**
 * The marking desk of one task: every choice is seen at once and saved behind it. Its students stand
 * in an order of the page's.
 */
export function useDesk(
  classId: number,
  taskId: number,
  inOrder = (students: MarkOut['student'][]) => students,
) {
  const saves = useSaves()
  const desk = shallowRef<DeskOut | null>(null)
  const loadError = ref<Problem | null>(null)
  /** Each student's work, and the state of the mark: saves change only that. */
  const works = reactive(new Map<number, WorkAtDeskOut>())
  const marks = reactive(new Map<number, MarkOut>())
  const markErrors = reactive(new Map<number, Problem>())
  const where = reactive(new Map<number, MarkOut['student']>())
  /** Which entry of other evidence is open, where one was chosen. */
  const opened = reactive(new Map<number, number>())
  /** Since which version of its mark each passage stands as it is known here. */
  const saidSince = new Map<string, number>()
  const onTheWay = new Map<string, Promise<void>>()
  /** Whose saves were answered since the desk was asked for: its answer is older than theirs. */
  const answered = new Set<number>()
  const toMark = computed(() => [...where.values()].filter((student) => student.waits).length)

  onScopeDispose(
    saves.listen({
      answered(save, answer) {
        if (save.taskId !== taskId) return
        answered.add(save.studentId)
        if (save.passage) saidSince.set(save.passage.key, answer.version)
        take(save.studentId, answer)
      },
      refused: (save) => save.taskId === taskId && void fetchMark(save.studentId, true),
    }),
  )

  async function load() {
    loadError.value = null
    answered.clear()
    try {
      const found = await ask(
        api.GET('/api/tasks/{task_id}/desk', { params: { path: { task_id: taskId } } }),
      )
      const there = inOrder(found.task.where)
      desk.value = { ...found, task: { ...found.task, where: there } }
      for (const student of found.task.where) {
        if (!answered.has(student.id)) where.set(student.id, student)
      }
      saves.waiting.filter((save) => save.taskId === taskId).forEach(lay)
    } catch (error) {
      loadError.value = asProblem(error)
    }
  }

  /** Fetch a student's mark unless it is here, or on its way. */
  async function fetchMark(studentId: number, anew = false): Promise<void> {
    if (markOf(studentId) && !anew) return
    const attempt = attemptOf(studentId)
    const key = `${studentId} ${attempt}`
    const fetch = (!anew && onTheWay.get(key)) || askForMark(studentId, attempt)
    onTheWay.set(key, fetch)
    await fetch
    onTheWay.delete(key)
  }

  async function askForMark(studentId: number, attempt: number) {
    try {
      markErrors.delete(studentId)
      const answer = await ask(
        api.GET('/api/tasks/{task_id}/students/{student_id}/attempts/{attempt}', {
          params: {
            path: { task_id: taskId, student_id: studentId, attempt },
          },
        }),
      )
      if (attempt === attemptOf(studentId)) works.set(studentId, newest(studentId, answer))
      fetchAhead(answer.parts)
      take(studentId, answer.mark)
    } catch (error) {
      markErrors.set(studentId, asProblem(error))
    }
  }

  /** What was fetched; of a mark that was changed since, what is said of it is what is here. */
  function newest(studentId: number, answer: WorkAtDeskOut): WorkAtDeskOut {
    const mark = marks.get(studentId)
    const there = works.get(studentId)
    const older = mark?.attempt === answer.mark.attempt && answer.mark.version < mark.version
    if (older && there) return { ...answer, passages: there.passages, feedback: there.feedback }
    for (const one of answer.passages) saidSince.set(one.key, one.version)
    return answer
  }

  const attemptOf = (studentId: number) =>
    opened.get(studentId) ?? where.get(studentId)?.attempt ?? 1

  /** The mark of a student's attempt that is open, once it is here. */
  function markOf(studentId: number): MarkOut | undefined {
    const mark = marks.get(studentId)
    return mark?.attempt === attemptOf(studentId) ? mark : undefined
  }

  /** Open an entry of a student, or (undefined) the one at hand, when the student is turned to. */
  function openEntry(studentId: number, entry: number | undefined) {
    if (entry) opened.set(studentId, entry)
    else opened.delete(studentId)
    if (studentId) void fetchMark(studentId)
  }

  /** Take what the server says unless it is older than what is here; what waits lies over it. */
  function take(studentId: number, answer: MarkOut) {
    const there = marks.get(studentId)
    if (there?.attempt === answer.attempt && answer.version < there.version) return
    where.set(studentId, answer.student)
    // Of another entry than the one that is open only where the student stands is of interest.
    if (opened.has(studentId) && answer.attempt !== opened.get(studentId)) return
    if (hasEntries(desk.value?.task.kind)) opened.set(studentId, answer.attempt)
    marks.set(studentId, answer)
    for (const save of saves.waiting) {
      if (save.taskId === taskId && save.studentId === studentId) lay(save)
    }
  }

  function lay(save: Save | Omit<Save, 'id'>) {
    const mark = marks.get(save.studentId)
    if (!mark || isTap(save)) return
    if (save.kind === 'passage') return void layPassage(save)
    const { level_id, half_way, not_assessed } = save
    const others = <T extends { criterion_id: number | null }>(all: T[]) =>
      all.filter((one) => one.criterion_id !== save.criterionId)
    if (save.kind === 'choice') {
      const choice = {
        criterion_id: save.criterionId!,
        level_id,
        half_way,
        not_assessed,
        carried_from: null,
      }
      mark.choices = [...others(mark.choices), choice]
      mark.finished = false
      const student = where.get(save.studentId)
      if (student) {
        const state = ['done', 'changed'].includes(student.state) ? 'changed' : 'started'
        const count = left(save.studentId).length
        where.set(save.studentId, { ...student, state, left: count, waits: !student.left_on })
      }
    } else if (save.kind === 'remark') {
      const remark = { criterion_id: save.criterionId, text: save.text }
      mark.remarks = [...others(mark.remarks), remark]
    } else {
      // Finished as far as the desk is concerned: who waits next is known without an answer.
      mark.finished = true
      const student = where.get(save.studentId)
      if (student) {
        where.set(save.studentId, { ...student, state: 'done', left: 0, waits: false })
      }
    }
  }

  function layPassage(save: Save | Omit<Save, 'id'>) {
    const work = works.get(save.studentId)
    if (!work || !save.passage) return
    const { deleted, ...passage } = save.passage
    const others = work.passages.filter((one) => one.key !== passage.key)
    const now = { ...passage, number: 0, version: save.version }
    works.set(save.studentId, { ...work, passages: deleted ? others : [...others, now] })
  }

  /** Save what stands of a passage from now on. */
  function remarkOn(studentId: number, passage: NonNullable<Save['passage']>) {
    add(studentId, { kind: 'passage', passage, version: saidSince.get(passage.key) ?? 0 })
  }

  function add(studentId: number, save: Partial<Save> & Pick<Save, 'kind'>) {
    const name = where.get(studentId)?.name ?? ''
    const whole = {
      label: `${name}, ${desk.value?.task.title ?? ''}`,
      classId,
      taskId,
      studentId,
      attempt: marks.get(studentId)?.attempt ?? attemptOf(studentId),
      criterionId: null,
      level_id: null,
      half_way: false,
      not_assessed: false,
      text: '',
      version: marks.get(studentId)?.version ?? 0,
      ...save,
    }
    lay(whole)
    saves.add(whole)
  }

  const choose = (studentId: number, criterionId: number, choice: Choosing) =>
    add(studentId, { kind: 'choice', criterionId, ...choice })

  function remark(studentId: number, criterionId: number | null, text: string) {
    const now = marks.get(studentId)?.remarks.find((one) => one.criterion_id === criterionId)
    if ((now?.text ?? '') !== text.trim()) add(studentId, { kind: 'remark', criterionId, text })
  }

  const finish = (studentId: number) => add(studentId, { kind: 'finish' })

  /** What the server refused of this task and the teacher has not decided yet. */
  const refused = computed(() => saves.refused.filter((save) => save.taskId === taskId))

  /** Decide what was refused: send it again over what is there now, or let it go. */
  function decide(save: Save, again: boolean) {
    if (again) lay(save)
    saves.decide(save, again, marks.get(save.studentId)?.version ?? save.version)
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

  const scaleOf = computed(() => new Map(desk.value?.scales.map((scale) => [scale.id, scale])))
  const outcomeOf = computed(() => new Map(desk.value?.outcomes.map((one) => [one.id, one])))

  void load()
  return {
    desk,
    loadError,
    load,
    works,
    marks,
    markErrors,
    where,
    toMark,
    refused,
    scaleOf,
    outcomeOf,
    fetchMark,
    attemptOf,
    markOf,
    openEntry,
    take,
    choose,
    remark,
    remarkOn,
    finish,
    decide,
    left,
  }
}
