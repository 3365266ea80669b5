import createClient from 'openapi-fetch'
import { ref } from 'vue'
import type { paths } from './generated'
import type { ErrorBody } from './types'

/** What the server says while it is still getting ready; empty once it is. */
export const gettingReady = ref('')

/** A request that asks again while the server is getting ready: it was not carried out, so nothing is done twice. */
export async function patient(request: Request): Promise<Response> {
  for (;;) {
    const response = await globalThis.fetch(request.clone())
    if (response.status !== 503) {
      gettingReady.value = ''
      return response
    }
    const body = (await response.json()) as ErrorBody
    gettingReady.value = body.sentence
    await new Promise((done) => setTimeout(done, 700))
  }
}

export const api = createClient<paths>({ baseUrl: '/', fetch: patient })

/** The server answered, and refused. */
export class Refused extends Error {
  constructor(readonly body: ErrorBody) {
    super(body.sentence)
  }
}

/** The server did not answer. */
export class Unreachable extends Error {
  constructor() {
    super('Imbuto’s server isn’t responding.')
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
