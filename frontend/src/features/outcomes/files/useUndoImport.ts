import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { several } from '@/design/format'
import { useRefresh } from '@/shared/queries'

/** What was brought into a class in one import, and undoing that. */
export function useUndoImport(classId: () => number) {
  const all = useRefresh().outcomes
  /** The import that was done, and what is said of it or of undoing it. */
  const brought = ref<number | null>(null)
  const said = ref('')

  async function done(entry: number, words: string) {
    brought.value = entry
    said.value = words
    await all()
  }

  async function takeBack() {
    const kept = await ask(
      api.DELETE('/api/classes/{class_id}/framework/{entry_id}', {
        params: { path: { class_id: classId(), entry_id: brought.value ?? 0 } },
      }),
    )
    brought.value = null
    const left = [
      kept.outcomes_kept ? several(kept.outcomes_kept, 'outcome') : '',
      kept.rubrics_kept ? several(kept.rubrics_kept, 'rubric') : '',
    ].filter(Boolean)
    said.value = left.length
      ? `Taken back, but for ${left.join(' and ')} used or changed since.`
      : 'Taken back.'
    await all()
  }

  function forget() {
    brought.value = null
    said.value = ''
  }

  return { brought, said, done, takeBack, forget }
}
