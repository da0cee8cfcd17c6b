// A desk of which only what whose turn it is asks is there: who waits, and whose work is here.
globalThis.document = { querySelector: () => null, createElement: () => ({}) }
async function answer({ where, kind = 'handed-in', left = {}, written = [], events }) {
  const { effectScope, nextTick, reactive, ref } = module
  const asked = ref(undefined)
  const fetched = []
  const it = {
    desk: ref({
      task: { kind, where },
      criteria: [{ id: 1 }, { id: 2 }, { id: 3 }],
    }),
    where: reactive(new Map(where.map((one) => [one.id, one]))),
    marks: reactive(new Map()),
    works: reactive(new Map()),
    left: (id) => (left[id] ?? [1, 2, 3]).map((one) => ({ id: one })),
    attemptOf: () => 1,
    markOf: (id) => it.marks.get(id),
    fetchMark: (id) => fetched.push(id),
  }
  const went = []
  const scope = effectScope()
  const turn = scope.run(() =>
    module.useTurn(it, asked, (id) => {
      went.push(id)
      asked.value = id
    }),
  )
  const acted = []
  const seen = []
  for (const [name, value] of events) {
    if (name === 'arrives') {
      it.works.set(value, { parts: written.includes(value) ? [{}] : [] })
      it.marks.set(value, {})
    } else if (name === 'key') turn.whenHere(() => void acted.push(`${turn.currentId.value}${value}`))
    else if (name === 'finished') Object.assign(it.where.get(value), { waits: false, state: 'done' })
    else if (name === 'ask') asked.value = value
    else turn[name](value)
    await nextTick()
    seen.push([turn.currentId.value, turn.at.value])
  }
  const next = turn.whoIsNext() ?? null
  scope.stop()
  return { current: seen.at(-1)[0], at: seen.at(-1)[1], next, acted, fetched, went }
}
