const criteria = [1, 2, 3].map((id) => ({ id, bonus: id === 3 }))
const students = [1, 2]
const empty = () => ({ version: 0, finished: false, choices: {}, remarks: {}, passages: {} })
let marks = new Map()

function where(id) {
  const { version, finished, choices } = marks.get(id)
  const left = [1, 2].filter((one) => !(one in choices)).length
  const state = finished ? 'done' : version ? 'started' : 'not-yet'
  return { id, name: `S${id}`, attempt: 1, state, left, waits: !finished }
}
function markOf(id) {
  const { version, finished, choices, remarks } = marks.get(id)
  return {
    student: where(id),
    attempt: 1,
    version,
    finished,
    choices: Object.entries(choices).map(([one, level_id]) => ({
      criterion_id: Number(one),
      level_id,
      half_way: false,
      not_assessed: false,
    })),
    remarks: Object.entries(remarks).map(([one, text]) => ({
      criterion_id: one === 'null' ? null : Number(one),
      text,
    })),
    to_mark_change: 0,
  }
}
function work({ method, path, body }) {
  if (path.endsWith('/desk'))
    return { task: { title: 'T', where: students.map(where) }, criteria, outcomes: [], scales: [] }
  const [, id, what] = path.match(/students\/(\d)\/attempts\/1\/?(.*)$/)
  const mark = marks.get(Number(id))
  const standing = () => Object.values(mark.passages).filter((one) => !one.deleted)
  if (method === 'GET')
    return { parts: [], late_minutes: 0, mark: markOf(Number(id)), passages: standing() }
  const criterion = what.split('/')[1] ?? null
  // In one tab nothing of a passage is ever unseen.
  if (what === 'passages' && (mark.passages[body.key]?.version ?? 0) > body.version) return null
  mark.version++
  if (what === 'passages')
    mark.passages = { ...mark.passages, [body.key]: { ...body, version: mark.version } }
  else if (what.startsWith('choices'))
    Object.assign(mark, {
      choices: { ...mark.choices, [criterion]: body.level_id },
      finished: false,
    })
  else if (what.startsWith('remark')) mark.remarks = { ...mark.remarks, [criterion]: body.text }
  else mark.finished = true
  return markOf(Number(id))
}
function saved(call) {
  const answer = work(call)
  return answer ? [200, answer] : [409, {}]
}
const isSave = (call) => call.method !== 'GET'
/** What the desk shows of a student: choices, the remark on the whole, whether it is finished. */
function shown(desk, id) {
  const mark = desk.marks.get(id)
  if (!mark) return null
  const choices = Object.fromEntries(mark.choices.map((one) => [one.criterion_id, one.level_id]))
  const remark = mark.remarks.find((one) => one.criterion_id === null)?.text ?? ''
  const passages = Object.fromEntries(
    desk.works.get(id).passages.map((one) => [one.key, one.text]),
  )
  const left = desk.left(id).map((one) => one.id)
  return { choices, remark, passages, finished: mark.finished, left }
}

async function answer({ events }) {
  localStorage.clear()
  calls = []
  marks = new Map(students.map((id) => [id, empty()]))
  const {
    it: { desk, saves },
    scope,
  } = inPage(() => {
    const saves = module.useSaves()
    saves.open(1)
    return { desk: module.useDesk(1, 8), saves }
  })
  await settled()
  const seen = []
  for (const [name, ...values] of events) {
    if (name === 'fetch') void desk.fetchMark(values[0], true)
    else if (name === 'load')
      await reply(
        (call) => !isSave(call),
        (call) => [200, work(call)],
      )
    else if (name === 'reply') await reply(isSave, saved)
    else if (name === 'gone') await reply(isSave, () => [503, {}])
    // Worked out now, and on its way until later.
    else if (name === 'slow') {
      const call = calls.find((one) => !isSave(one) && !one.late)
      if (call) call.late = work(call)
    } else if (name === 'arrive')
      await reply(
        (call) => call.late,
        (call) => [200, call.late],
      )
    else if (desk.marks.has(values[0])) {
      if (name === 'choose')
        desk.choose(values[0], values[1], {
          level_id: values[2],
          half_way: false,
          not_assessed: false,
        })
      if (name === 'remark') desk.remark(values[0], null, values[1])
      if (name === 'passage') {
        const [id, key, text] = values
        const place = { part_id: 1, criterion_id: null, place: {} }
        desk.remarkOn(id, { key, text, ...place, deleted: !text })
      }
      if (name === 'finish' && !desk.left(values[0]).length) desk.finish(values[0])
    }
    for (let turn = 0; turn < 3; turn++) await settled()
    seen.push(students.map((id) => shown(desk, id)))
  }
  for (let turn = 0; turn < 60 && (calls.length || saves.waiting.length); turn++) {
    saves.open(1)
    await settled()
    await reply(
      () => true,
      (call) => (call.late ? [200, call.late] : saved(call)),
    )
  }
  const last = students.map((id) => shown(desk, id))
  const server = students.map((id) => marks.get(id))
  const waits = students.map((id) => desk.where.get(id)?.waits)
  saves.close(false)
  scope.stop()
  return { seen, last, server, waits }
}
