const OTHER = '/problems/other-person'

async function answer({ events }) {
  localStorage.clear()
  globalThis.storageFull = false
  const log = []
  let onItsWay = null
  let version = 0
  const open = () =>
    new module.SaveQueue({
      prefix: 'save.',
      send: (save) => new Promise((done, fail) => (onItsWay = { save, done, fail })),
      versionOf: (mark) => mark.version,
      answered: () => {},
      refused: () => {},
      changed: () => {},
      retryAfter: 1_000_000,
    })
  let queue = open()
  async function reply(status) {
    const { save, done, fail } = onItsWay
    onItsWay = null
    // An answer that never came: the server may have done it all the same.
    if (status === 200 || status === -1) log.push({ ...save })
    if (status === 200) done({ version: ++version })
    else if (status === 'other') fail(new module.Problem(409, 'no', [], null, OTHER))
    else fail(new module.Problem(Math.max(0, status), 'no', [], null))
    await settled()
  }
  for (const [name, ...values] of events) {
    if (name === 'add') queue.add({ classId: 1, taskId: 1, version: 0, ...values[0] })
    if (name === 'reply' && onItsWay) await reply(values[0])
    if (name === 'retry') void queue.run()
    if (name === 'decide' && queue.refused.length) queue.decide(queue.refused[0], values[0], 9)
    if (name === 'kept') localStorage.setItem('save.1', JSON.stringify({ id: '1', ...values[0] }))
    if (name === 'full') globalThis.storageFull = values[0]
    if (name === 'reload') {
      queue.stop()
      onItsWay = null
      queue = open()
      void queue.run()
    }
    await settled()
  }
  const unkept = queue.unkept
  for (let turn = 0; turn < 200 && queue.waiting.length; turn++) {
    void queue.run()
    await settled()
    if (onItsWay) await reply(200)
  }
  queue.stop()
  const kept = Object.keys(localStorage).length
  return { log, waiting: queue.waiting, refused: queue.refused, kept, unkept }
}
