import { describe, expect, it } from 'vitest'
import { readFileSync } from 'node:fs'

/** Every pair of text and ground that the interface uses, in both themes: 4.5 to 1 at the least. */
const css = readFileSync('src/shared/styles/tokens.css', 'utf8')
const blocks = css.split('}')

function tokens(block: string): Record<string, string> {
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((m) => [m[1] ?? '', m[2] ?? '']))
}
const paper = tokens(blocks[0] ?? '')
const lamp = { ...paper, ...tokens(blocks[1] ?? '') }

const PAIRS = [
  ...['paper', 'sheet', 'well', 'spine', 'night'].map((ground) => ['ink', ground]),
  ...['paper', 'sheet', 'well'].map((ground) => ['soft', ground]),
  ...['paper', 'sheet', 'well'].map((ground) => ['stored-ink', ground]),
  ...['paper', 'sheet'].map((ground) => ['dark', ground]),
  ...['deep', 'deep-band', 'bar', 'chip'].map((ground) => ['on-deep', ground]),
  ...['deep', 'deep-band', 'bar'].map((ground) => ['on-deep-soft', ground]),
  ['gain', 'chip'],
  ['dark-on-bar', 'bar'],
  ['ink', 'wash'],
  ['ink', 'turns-wash'],
] as [string, string][]

function luminance(hex: string): number {
  const parts = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
  const [r = 0, g = 0, b = 0] = parts.map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

describe.each([
  ['paper', paper],
  ['lamp', lamp],
])('%s', (_, theme) => {
  it.each(PAIRS)('%s on %s', (text, ground) => {
    const [a, b] = [luminance(theme[text] ?? ''), luminance(theme[ground] ?? '')]
    expect((Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)).toBeGreaterThanOrEqual(4.5)
  })
})
