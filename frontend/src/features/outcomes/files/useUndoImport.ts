import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { several } from '@/design/format'
import { useRefresh } from '@/shared/queries'

/** What one import did to a class, and undoing it. */
export function useUndoImport(classId: () => number) {
  const all = useRefresh().outcomes
  /** The import that was done, and what is said of it or of undoing it. */
  const imported = ref<number | null>(null)
  const said = ref('')

  async function done(entry: number, words: string) {
    imported.value = entry
    said.value = words
    await all()
  }

  async function undo() {
    const kept = await ask(
      api.DELETE('/api/classes/{class_id}/framework/{entry_id}', {
        params: { path: { class_id: classId(), entry_id: imported.value ?? 0 } },
      }),
    )
    imported.value = null
    const left = [
      kept.outcomes_kept ? several(kept.outcomes_kept, 'outcome') : '',
      kept.rubrics_kept ? several(kept.rubrics_kept, 'rubric') : '',
    ].filter(Boolean)
    said.value = left.length
      ? `Undone, but for ${left.join(' and ')} used or changed since.`
      : 'Undone.'
    await all()
  }

  function forget() {
    imported.value = null
    said.value = ''
  }

  return { imported, said, done, undo, forget }
}
