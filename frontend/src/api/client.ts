/** The one way to the server: openapi-fetch over the generated types, errors as `Problem`. */
import createClient from 'openapi-fetch'
import type { FieldProblem, ProblemDetails } from './schema'
import type { paths } from './schema'

export const api = createClient<paths>({ baseUrl: '' })

/** What the server refused, or (status 0) that it did not answer. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly errors: FieldProblem[] = [],
    readonly current: number | null = null,
  ) {
    super(detail)
  }

  /** The server did not answer: try again later. */
  get gone(): boolean {
    return this.status === 0 || this.status >= 502
  }

  /** Somebody saved in between. */
  get stale(): boolean {
    return this.status === 409
  }

  /** The message for a field, named as the server names it. */
  at(field: string): string | undefined {
    return this.errors.find((error) => error.field === field)?.message
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

let whenSignedOut = () => {}

/** Say what to do when a call is refused because nobody is signed in. */
export function onSignedOut(act: () => void): void {
  whenSignedOut = act
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
  if (answer.response.status === 401) whenSignedOut()
  const details = answer.error as Partial<ProblemDetails> | undefined
  throw new Problem(
    answer.response.status,
    details?.detail ?? `The server answered with an error (${answer.response.status}).`,
    details?.errors ?? [],
    details?.current ?? null,
  )
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
