import createClient from 'openapi-fetch'
import { seenAs } from '@/api/seeing'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Working = Schemas['Working']
export type FaultOut = Schemas['FaultOut']

/** An answer of the server that says what is wrong and what mends it. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
    readonly mend: string,
    readonly faults: FaultOut[],
    readonly more: Record<string, unknown>,
  ) {
    super(detail)
  }
}

type Hears = (subjects: string[]) => void
let hears: Hears = () => undefined
/** Who is told what each act changed, by the subjects that its answer names. */
export function hearChanges(listener: Hears): void {
  hears = listener
}

export const api = createClient<paths>({ baseUrl: '/', headers: { 'X-Tallyman': '1' } })
api.use({
  onRequest({ request }) {
    const spec = seenAs()
    if (spec) request.headers.set('X-See-As', spec)
    return request
  },
  onResponse({ response }) {
    const changed = response.headers.get('X-Changed')
    if (changed) hears(changed.split(', '))
  },
})

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

function problemOf(answer: Answer<unknown>): ProblemError {
  const body = (answer.error ?? {}) as Partial<Schemas['Problem']>
  return new ProblemError(
    answer.response.status,
    body.code ?? 'unexpected',
    body.detail ?? `The server answered ${answer.response.status}.`,
    body.mend ?? 'Try again in a moment.',
    body.errors ?? [],
    body.more ?? {},
  )
}

/** The data of a call, or the problem thrown; a server that does not answer is a problem too. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new ProblemError(0, 'no_answer', 'The server does not answer.', 'Try again in a moment.', [], {})
  }
  if (answer.error !== undefined || !answer.response.ok) throw problemOf(answer)
  return answer.data as T
}

/** A key of one's own for a start, so that a doubled click starts once. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16)).join('')
}
