import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, it } from 'vitest'

/** Every component's source, by its path. */
function sources(folder: string): [string, string][] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.vue'))
    .map((name) => [name, readFileSync(join(folder, name), 'utf8')])
}

it('no field is written over while someone types: what stands comes by v-kept, never by :value', () => {
  const bare = sources('src').flatMap(([name, text]) =>
    [...text.matchAll(/<input\b(?:[^>"]|"[^"]*")*>/g)]
      .map(([tag]) => tag)
      .filter((tag) => /\s:value=/.test(tag) && !/type="(radio|checkbox)"/.test(tag))
      .map((tag) => `${name}: ${tag.replace(/\s+/g, ' ').slice(0, 80)}`),
  )
  expect(bare).toEqual([])
})
