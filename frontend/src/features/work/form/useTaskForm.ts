import { useQuery } from '@pinia/colada'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import type { TaskKind, TaskOut } from '@/api/schema'
import { localInput } from '@/design/format'
import { say } from '@/design/telling/messages'
import { useDraft } from '@/shared/forms/useDraft'
import { useSending } from '@/shared/forms/useSending'
import { hasRubric } from '@/shared/kinds'
import { keys, useRefresh } from '@/shared/queries'
import { useSession } from '@/shared/session'
import { askedBy, asSent, whenSeen, type Sent } from './taskWords'
import { useEffects } from './useEffects'

/** Setting a task, or changing one: what is typed, what a change does to marks, and saving it. */
export function useTaskForm(
  props: Readonly<{ classId: number; task?: TaskOut }>,
  done: (taskId?: number) => void,
) {
  const { timeZone } = useSession()
  const refresh = useRefresh().tasks
  const { problem, busy, send } = useSending(refresh)
  const { effects, seen } = useEffects()
  const draft = useDraft('task', () => ({
    id: props.task?.id ?? `new in ${props.classId}`,
    version: props.task?.version ?? 0,
    body: {
      title: props.task?.title ?? '',
      instructions: props.task?.instructions ?? '',
      kind: props.task?.kind ?? ('handed-in' as TaskKind),
      rubric_id: props.task?.rubric?.id ?? 0,
      criteria: props.task && !props.task.all_criteria ? askedBy(props.task) : null,
      due: localInput(props.task?.due_at ?? null, timeZone.value),
      closes: localInput(props.task?.closes_at ?? null, timeZone.value),
      points: props.task?.own_points ?? '',
      rubric_shown: props.task?.rubric_shown ?? true,
      late_per_day: props.task?.late_per_day ?? 0,
      late_most: props.task?.late_most ?? 100,
      practice: props.task?.practice ?? false,
      attempts_rule: props.task?.attempts_rule ?? ('latest' as TaskOut['attempts_rule']),
      category: props.task?.category ?? '',
      starting_text: props.task?.starting_text ?? '',
      student_ids: props.task?.student_ids ?? (null as number[] | null),
      seen: whenSeen(props.task),
      set: localInput(props.task?.set_at ?? null, timeZone.value),
    },
  }))
  const body = draft.body

  /** How the rubric chosen fits what this class teaches, and its criteria. */
  const { data: fit } = useQuery({
    key: () => keys.rubricFit(body.rubric_id, props.classId),
    query: () =>
      ask(
        api.GET('/api/classes/{class_id}/rubrics/{rubric_id}/fit', {
          params: { path: { class_id: props.classId, rubric_id: body.rubric_id } },
        }),
      ),
    enabled: () => body.rubric_id > 0,
  })
  /** A task stays on its revision, whatever is in force by now. */
  const criteria = computed(() =>
    props.task?.rubric?.id === body.rubric_id ? props.task.criteria : (fit.value?.criteria ?? []),
  )
  const foreign = computed(() => [...(fit.value?.matched ?? []), ...(fit.value?.unmatched ?? [])])

  function typed(): Sent {
    return {
      title: body.title,
      instructions: body.instructions,
      kind: body.kind,
      rubric_id: hasRubric(body.kind) ? body.rubric_id : null,
      criteria: body.criteria,
      due_at: body.due || null,
      points: body.points.trim() || null,
      practice: body.practice,
      closes_at: body.closes || null,
      rubric_shown: body.rubric_shown,
      late_per_day: Number(body.late_per_day),
      late_most: Number(body.late_most),
      attempts_rule: body.attempts_rule,
      category: body.category,
      starting_text: body.starting_text,
      student_ids: body.student_ids,
      draft: body.seen === 'draft',
      set_at: body.seen === 'at' ? body.set || null : null,
    }
  }

  async function change(task: TaskOut) {
    const path = { params: { path: { task_id: task.id } } }
    const put = (sent: Sent, version: number) =>
      ask(api.PUT('/api/tasks/{task_id}', { ...path, body: { ...sent, version } }))
    const sent = typed()
    const before = asSent(task)
    let ahead = false
    const sending = await send(async () => {
      ahead = await seen(sent, () =>
        ask(api.POST('/api/tasks/{task_id}/effects', { ...path, body: sent })),
      )
      if (ahead) await put(sent, draft.version)
    })
    if (!sending || !ahead) return
    const version = draft.version + 1
    draft.saved()
    say('Saved', {
      work: async () => {
        await put(before, version)
        await refresh()
      },
      undone: 'The task is as it was before',
    })
    done()
  }

  async function make() {
    let made = 0
    const path = { params: { path: { class_id: props.classId } } }
    const sent = await send(async () => {
      const task = await ask(api.POST('/api/classes/{class_id}/tasks', { ...path, body: typed() }))
      made = task.id
    })
    if (!sent) return
    draft.saved()
    done(made)
  }

  const save = () => (props.task ? change(props.task) : make())
  return { draft, body, problem, busy, effects, criteria, foreign, save }
}
