import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answer, api } from '../api/client'
import type { paths } from '../api/generated'
import { useSession } from './session'

type Get<P extends keyof paths> = paths[P] extends { get: infer G } ? G : never

/** Every address of the API that answers a GET about one home. */
export type HomePath = {
  [P in keyof paths]: Get<P> extends { parameters: { path: { home_id: string } } } ? P : never
}[keyof paths]

type Query<P extends HomePath> = Get<P> extends { parameters: { query?: infer Q } } ? NonNullable<Q> : never
type Where<P extends HomePath> =
  Get<P> extends { parameters: { path: infer W } } ? Omit<W, 'home_id'> & Partial<Record<'home_id', string>> : never
type Answered<P extends HomePath> =
  Get<P> extends { responses: { 200: { content: { 'application/json': infer T } } } } ? T : never

interface Options<P extends HomePath> {
  /** The question, such as plan and outage; a change of it asks again. */
  query?: MaybeRefOrGetter<Query<P>>
  /** The rest of the address, or the id of a home that is not the open one. */
  path?: MaybeRefOrGetter<Where<P>>
  /** Nothing is asked while this is false. */
  enabled?: MaybeRefOrGetter<boolean>
  /** Whether an edit of the home asks again; true where nothing is said. */
  followsEdits?: boolean
  /** Whether the answer before stays in view until the next one is there; true where nothing is said. */
  keep?: boolean
  /** Ask again after so many milliseconds. */
  every?: number
  /** Whether to ask again after a refusal; true where nothing is said. */
  retry?: boolean
}

/**
 * Ask the server one question about the open home, and ask again after every edit that it has taken.
 *
 * The query's parts (``isError``, ``error``, ``refetch`` …) come with ``view``: the answer, undefined until there is one.
 */
export function useHomeQuery<P extends HomePath>(address: P, options: Options<P> = {}) {
  const { state, served } = useSession()
  const { followsEdits = true, keep = true, retry = true } = options
  const path = computed(() => ({ home_id: state.value?.id ?? '', ...toValue(options.path ?? {}) }))
  const query = computed(() => ({ ...(toValue(options.query) ?? {}) }))
  const found = useQuery({
    queryKey: computed(() => [address, path.value, followsEdits ? served.value : 0, query.value] as const),
    queryFn: ({ signal }) => {
      // The client's own overloads do not follow a path that is a type parameter; the types above are the check.
      const get = api.GET as (at: string, init: object) => Promise<{ data?: Answered<P>; response: Response }>
      return answer(get(address, { params: { path: path.value, query: query.value }, signal }))
    },
    enabled: computed(() => !!path.value.home_id && (toValue(options.enabled) ?? true)),
    // An answer about one home never stands in for one about another.
    placeholderData: (before, asked) =>
      keep && (asked?.queryKey[1] as typeof path.value | undefined)?.home_id === path.value.home_id
        ? before
        : undefined,
    ...(options.every ? { refetchInterval: options.every } : {}),
    ...(retry ? {} : { retry: false }),
  })
  return { ...found, view: computed(() => found.data.value as Answered<P> | undefined) }
}
