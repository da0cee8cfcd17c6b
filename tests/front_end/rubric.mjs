// A server that keeps one rubric, of which only the title and whether points are shown are edited.
let timers = new Map()
let timer = 0
globalThis.setTimeout = (act) => timers.set(++timer, act) && timer
globalThis.clearTimeout = (one) => void timers.delete(one)
globalThis.document = { activeElement: null, createElement: () => ({}) }
/** Let the time pass that everything waits for which waits now. */
const pause = async () => {
  for (let turn = 0; turn < 4; turn++) await settled()
  const due = [...timers.values()]
  timers.clear()
  due.forEach((act) => act())
  for (let turn = 0; turn < 6; turn++) await settled()
}
let kept

function whole() {
  const { title, version, points_shown } = kept
  return { id: 9, title, version, points_shown, final: false, criteria: [] }
}
function work({ method, path, body }) {
  if (method === 'GET') return [200, whole()]
  const same = body.title === kept.title && body.points_shown === kept.points_shown
  if (method === 'PUT' && same) return [200, whole()]
  if (body.version !== kept.version) return [409, { detail: 'stale', current: kept.version }]
  kept = { ...kept, version: kept.version + 1 }
  // An operation gives the rubric anew, with what it does to it.
  if (path.endsWith('/weights')) kept.shared = (kept.shared ?? 0) + 1
  else Object.assign(kept, { title: body.title, points_shown: body.points_shown })
  return [200, whole()]
}

async function answer({ events }) {
  calls = []
  timers.clear()
  kept = { title: 'first', version: 1, points_shown: true }
  const { it, scope } = inPage(() => module.useRubric(9))
  await pause()
  await reply(() => true, work)
  await pause()
  const seen = []
  for (const [name, value] of events) {
    if (name === 'type') it.draft.title = value
    else if (name === 'points') it.draft.points_shown = value
    else if (name === 'reply') await reply(() => true, work)
    else if (name === 'refuse') await reply(() => true, () => [422, { detail: 'no' }])
    else if (name === 'gone') await reply(() => true, () => [503, {}])
    else if (name === 'lost') await reply((call) => call.method === 'PUT', (call) => (work(call), [0]))
    else if (name === 'other') kept = { ...kept, title: value, version: kept.version + 1 }
    else if (name === 'share') {
      void it.then((version) =>
        module.ask(
          module.api.POST('/api/rubrics/{rubric_id}/weights', {
            params: { path: { rubric_id: 9 } },
            body: { version, how: 'equal' },
          }),
        ),
      )
    }
    await pause()
    seen.push([it.draft.title, it.draft.points_shown, it.state.value])
  }
  for (let turn = 0; turn < 20 && calls.length; turn++) {
    await reply(() => true, work)
    await pause()
  }
  const last = [it.draft.title, it.draft.points_shown, it.state.value]
  scope.stop()
  return { seen, last, kept: [kept.title, kept.points_shown] }
}
