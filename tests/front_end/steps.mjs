import { computed, nextTick, ref } from './module.mjs'
let now = 0
Date.now = () => now
globalThis.document = { activeElement: null }
const fields = new Map()
const field = (name) =>
  fields.get(name) ?? fields.set(name, { matches: () => name !== 'button' }).get(name)

async function answer({ events }) {
  const text = ref('start')
  const steps = module.useSteps(
    computed(() => text.value),
    (before) => (text.value = before),
  )
  await nextTick()
  steps.begin()
  const seen = []
  for (const [name, ...values] of events) {
    if (name === 'write') {
      document.activeElement = values[1] ? field(values[1]) : null
      now += values[2]
      text.value = values[0]
    } else steps[name]()
    await nextTick()
    seen.push([text.value, steps.canUndo.value, steps.canRedo.value])
  }
  return seen
}
