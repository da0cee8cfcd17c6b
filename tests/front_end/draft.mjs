import { effectScope, nextTick, shallowRef } from './module.mjs'

async function answer({ events }) {
  const there = shallowRef({ id: 1, version: 1, body: { title: 'first', tags: ['a'] } })
  const scope = effectScope()
  const draft = scope.run(() => module.useDraft(() => there.value))
  const seen = []
  for (const [name, value] of events) {
    const { id, version, body } = there.value
    if (name === 'type') draft.body.title = value
    else if (name === 'change')
      there.value = { id, version: version + 1, body: { ...body, title: value } }
    else if (name === 'other')
      there.value = { id: id + 1, version: 1, body: { ...body, title: value } }
    else if (name === 'save' && draft.version === version) {
      there.value = { id, version: version + 1, body: { ...draft.body } }
      draft.saved()
    } else if (name !== 'save') draft[name]()
    await nextTick()
    seen.push([draft.body.title, draft.dirty, draft.meanwhile, there.value.body.title])
  }
  scope.stop()
  return seen
}
