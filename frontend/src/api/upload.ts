/** Sending a file: one request for its bytes, with how far it has come, resumed after a lost connection. */
import { api, ask, Problem } from './client'
import { PERSON_HEADER, tabPerson } from './person'

/** Whose upload it is: a student's own, or a teacher's. */
export type Whose = 'own' | 'teacher'

const LOST = 'The connection was lost. The file goes on where it was once it is back.'
const WAIT = [1000, 2000, 4000, 8000, 15_000]

/** A key by which a file that is begun twice is one. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
}

interface Sending {
  /** How many bytes have arrived. */
  progress: (sent: number) => void
  /** The connection is lost (why), or there again (empty). */
  waiting: (why: string) => void
  signal: AbortSignal
}

/** Send a file whole; gives the number of the upload. Throws a Problem that waiting does not mend. */
export async function sendFile(
  whose: Whose,
  key: string,
  file: File,
  { progress, waiting, signal }: Sending,
): Promise<number> {
  for (let tries = 0; ; tries++) {
    try {
      const begun = await ask(
        whose === 'own'
          ? api.POST('/api/my/uploads', { body: { key, name: file.name, size: file.size } })
          : api.POST('/api/uploads', { body: { key, name: file.name, size: file.size } }),
      )
      waiting('')
      progress(begun.received)
      if (begun.received < file.size) {
        const rest = file.slice(begun.received)
        const address = `/api/${whose === 'own' ? 'my/' : ''}uploads/${begun.id}/bytes`
        await put(`${address}?at=${begun.received}`, rest, signal, (sent) => {
          tries = 0
          progress(begun.received + sent)
        })
      }
      return begun.id
    } catch (error) {
      if (signal.aborted) throw error
      // Another part is expected: it is asked anew how much has arrived.
      const again = error instanceof Problem && (error.gone || error.stale)
      if (!again || tries >= 60) throw error
      waiting(error.gone ? LOST : '')
      await pause(WAIT[Math.min(tries, WAIT.length - 1)]!, signal)
    }
  }
}

/** Give a file up: nothing of it is kept. */
export async function giveUp(whose: Whose, id: number): Promise<void> {
  const path = { params: { path: { upload_id: id } } }
  await ask(
    whose === 'own'
      ? api.DELETE('/api/my/uploads/{upload_id}', path)
      : api.DELETE('/api/uploads/{upload_id}', path),
  )
}

/** XMLHttpRequest, since fetch does not tell how much was sent. */
function put(
  address: string,
  body: Blob,
  signal: AbortSignal,
  progress: (sent: number) => void,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    const stop = () => request.abort()
    request.open('PUT', address)
    request.setRequestHeader('content-type', 'application/octet-stream')
    if (tabPerson.value !== null) request.setRequestHeader(PERSON_HEADER, `${tabPerson.value}`)
    request.upload.onprogress = (event) => progress(event.loaded)
    request.onload = () => {
      if (request.status < 300) return resolve()
      const details = JSON.parse(request.responseText || '{}') as { detail?: string; type?: string }
      reject(new Problem(request.status, details.detail ?? LOST, [], null, details.type))
    }
    request.onerror = () => reject(new Problem(0, LOST))
    request.onabort = () => reject(new Problem(-1, 'Not sent'))
    request.onloadend = () => signal.removeEventListener('abort', stop)
    signal.addEventListener('abort', stop)
    request.send(body)
  })
}

function pause(milliseconds: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const wake = () => (clearTimeout(timer), window.removeEventListener('online', wake), resolve())
    const timer = setTimeout(wake, milliseconds)
    window.addEventListener('online', wake)
    signal.addEventListener('abort', () => reject(new Problem(-1, 'Not sent')))
  })
}
