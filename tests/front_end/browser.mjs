// A browser's storage, addresses without a host, and a server that answers when it is told to: what
// is called waits in `calls` until `reply` answers the oldest that fits.
const settled = () => new Promise((done) => setImmediate(done))
globalThis.localStorage = new Proxy(new Map(), {
  ownKeys: (kept) => [...kept.keys()],
  getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
  get: (kept, name) =>
    ({
      getItem: (key) => kept.get(key) ?? null,
      setItem: (key, text) => {
        if (globalThis.storageFull) throw new DOMException('full', 'QuotaExceededError')
        kept.set(key, text)
      },
      removeItem: (key) => void kept.delete(key),
      clear: () => kept.clear(),
    })[name],
})
const PlainRequest = globalThis.Request
globalThis.Request = class extends PlainRequest {
  constructor(input, init) {
    super(typeof input === 'string' ? new URL(input, 'http://here') : input, init)
  }
}
let calls = []
globalThis.fetch = async (request) => {
  const { method } = request
  const path = new URL(request.url).pathname
  const body = method === 'GET' || !request.body ? null : await request.json()
  return new Promise((done, fail) => calls.push({ method, path, body, done, fail }))
}
async function reply(fits, answer) {
  const call = calls.find(fits)
  if (!call) return null
  calls = calls.filter((one) => one !== call)
  const [status, body] = answer(call)
  if (status === 0) call.fail(new TypeError('gone'))
  else call.done(Response.json(body, { status }))
  for (let turn = 0; turn < 3; turn++) await settled()
  return call
}
/** Run something that asks for stores and queries, as a page would. */
function inPage(act) {
  const app = module.createApp({})
  app.use(module.createPinia())
  app.use(module.PiniaColada)
  const scope = module.effectScope()
  return { it: app.runWithContext(() => scope.run(act)), scope }
}
Object.assign(globalThis, {
  __VUE_OPTIONS_API__: false,
  __VUE_PROD_DEVTOOLS__: false,
  __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: false,
})
