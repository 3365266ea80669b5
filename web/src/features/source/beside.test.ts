import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Source, Station } from '@/shared/api/types'
import { mount, saying, text, texts, type } from '@/testing/mount'
import { feed, home, load, plan } from '@/testing/samples'
import BesideLoads from './components/BesideLoads.vue'

const session = vi.hoisted(() => ({ edit: vi.fn() }))
vi.mock('@/shared/session', async (original) => ({ ...(await original<object>()), ...session }))
beforeEach(() => session.edit.mockClear())

describe('a station beside the first', () => {
  const made = home([], [load('reef'), load('modem'), load('pump', { both_legs: true })])
  const source = { id: 'beside', station: 'pail' } as Source
  const there = feed('cord-reef', 1, { source: 'beside', circuit: null, load: 'reef' })
  const props = { plan: plan([there]), home: made, source, station: { name: 'Pail' } as Station }

  it('lists what hangs on it and offers what still can', () => {
    mount(BesideLoads, props)
    expect(text('li')).toContain('Reef outlet 1')
    expect(texts('[aria-label^="Add a load"] option')).toEqual(['Add a load…', 'Modem'])
  })
  it('takes a load on its next outlet, and lets one go', async () => {
    mount(BesideLoads, props)
    await type('select', 'modem')
    const [label, [op]] = session.edit.mock.calls[0]!
    expect(label).toBe('Modem on Pail')
    expect(op).toMatchObject({ op: 'add', value: { source: 'beside', load: 'modem', circuit: null, place: 2 } })
    saying('remove').click()
    expect(session.edit.mock.calls[1]).toEqual([
      'Reef off Pail',
      [{ doc: 'p', op: 'remove', path: '/feeds/cord-reef' }],
    ])
  })
})
