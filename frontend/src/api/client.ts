/** The one way to the server: openapi-fetch over the generated types, errors as `Problem`. */
import createClient from 'openapi-fetch'
import { heard } from './clock'
import type { FieldProblem, ProblemDetails } from './schema'
import type { paths } from './schema'
import { fetchAfterLeaving, onReplaced, PERSON_HEADER, tabPerson } from './person'

const READS = new Set(['GET', 'HEAD'])
const OTHER_PERSON = '/problems/other-person'
const BEING_PREPARED = '/problems/being-prepared'

export const api = createClient<paths>({ baseUrl: '', fetch: fetchAfterLeaving })

api.use({
  /** Every write names its person; one that waited in the browser has named its own. */
  onRequest({ request }) {
    if (READS.has(request.method) || request.headers.has(PERSON_HEADER)) return
    if (tabPerson.value !== null) request.headers.set(PERSON_HEADER, String(tabPerson.value))
  },
  onResponse({ response }) {
    heard(response)
  },
})

/** What the server refused, or (status 0) that it did not answer. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly errors: FieldProblem[] = [],
    readonly current: number | null = null,
    readonly type: string = 'about:blank',
  ) {
    super(detail)
  }

  /** The server did not answer, or not now: the same call may go through later. */
  get gone(): boolean {
    return this.status === 0 || this.status >= 500 || [408, 429].includes(this.status)
  }

  /** Nobody is signed in any more, or somebody else is: it waits for its person. */
  get notMine(): boolean {
    return this.status === 401 || this.type === OTHER_PERSON
  }

  /** A file is made ready to be shown: it is asked for again in a moment. */
  get preparing(): boolean {
    return this.type === BEING_PREPARED
  }

  /** Somebody saved in between. */
  get stale(): boolean {
    return this.status === 409 && !this.notMine
  }

  /** The message for a field, named as the server names it. */
  at(field: string): string | undefined {
    return this.errors.find((error) => error.field === field)?.message
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

let whenSignedOut: (byAnother: boolean) => void = () => {}

/** Say what to do when nobody is signed in any more, or (true) somebody else is. */
export function onSignedOut(act: (byAnother: boolean) => void): void {
  whenSignedOut = act
  onReplaced(() => act(true))
}

/** Await a call and give its data, or throw a Problem. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'The server does not answer. Nothing is lost; try again in a moment.')
  }
  if (answer.response.ok) return answer.data as T
  const details = answer.error as Partial<ProblemDetails> | undefined
  const problem = new Problem(
    answer.response.status,
    details?.detail ?? `The server answered with an error (${answer.response.status}).`,
    details?.errors ?? [],
    details?.current ?? null,
    details?.type,
  )
  if (problem.notMine) whenSignedOut(problem.status !== 401)
  throw problem
}

/** What is said of a file until it is ready. */
export function beingPrepared(): Problem {
  return new Problem(503, 'This file is being prepared.', [], null, BEING_PREPARED)
}

/** Any thrown thing as a Problem. */
export function asProblem(error: unknown): Problem {
  return error instanceof Problem ? error : new Problem(-1, String(error))
}

/** A form body from named values; empty ones are left out. */
export function form(values: Record<string, string | Blob | null | undefined>): FormData {
  const data = new FormData()
  for (const [name, value] of Object.entries(values)) {
    if (value !== null && value !== undefined && value !== '') data.append(name, value)
  }
  return data
}
