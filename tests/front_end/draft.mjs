import { effectScope, nextTick, shallowRef } from './module.mjs'

globalThis.sessionStorage = globalThis.localStorage

async function answer({ events }) {
  sessionStorage.clear()
  const things = { 1: { id: 1, version: 1, body: { title: 'first', tags: ['a'] } } }
  things[2] = { id: 2, version: 1, body: { title: 'second', tags: ['a'] } }
  const there = shallowRef(things[1])
  const scope = effectScope()
  const draft = scope.run(() => module.useDraft('form', () => there.value))
  const seen = []
  const now = (thing) => (there.value = things[thing.id] = thing)
  for (const [name, value] of events) {
    const { id, version, body } = there.value
    if (name === 'type') draft.body.title = value
    else if (name === 'change') now({ id, version: version + 1, body: { ...body, title: value } })
    else if (name === 'other') there.value = things[3 - id]
    else if (name === 'save' && draft.version === version) {
      now({ id, version: version + 1, body: { ...draft.body } })
      draft.saved()
    } else if (name !== 'save') draft[name]()
    await nextTick()
    seen.push([draft.body.title, draft.dirty, draft.meanwhile, there.value.body.title])
  }
  scope.stop()
  return seen
}
