import createClient from 'openapi-fetch'
import type { paths } from './generated'
import type { ErrorBody } from './types'

export const api = createClient<paths>({ baseUrl: '/' })

/** The server answered, and refused. */
export class Refused extends Error {
  constructor(readonly body: ErrorBody) {
    super(body.sentence)
  }
}

/** The server did not answer. */
export class Unreachable extends Error {
  constructor() {
    super('Imbuto’s server does not answer.')
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** The data of an answer; throws Refused or Unreachable. */
export async function answer<T>(call: Promise<Answer<T>>): Promise<T> {
  let result: Answer<T>
  try {
    result = await call
  } catch {
    throw new Unreachable()
  }
  if (result.response.ok) return result.data as T
  const body = result.error as ErrorBody | undefined
  if (body && typeof body.sentence === 'string') throw new Refused(body)
  throw new Unreachable()
}
