import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Source, Station } from '@/shared/api/types'
import { choose, mount, saying, text } from '@/testing/mount'
import { feed, home, load, plan } from '@/testing/samples'
import BesideLoads from './components/BesideLoads.vue'

const session = vi.hoisted(() => ({ edit: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))
beforeEach(() => session.edit.mockClear())

describe('a station beside the first', () => {
  const made = home([], [load('reef'), load('modem'), load('pump', { both_legs: true })])
  const source = { id: 'beside', station: 'pail' } as Source
  const there = feed('cord-reef', 1, { source: 'beside', circuit: null, load: 'reef' })
  const props = { plan: plan([there]), home: made, source, station: { name: 'Pail' } as Station }

  it('lists what hangs on it', () => {
    mount(BesideLoads, props)
    expect(text('li')).toContain('Reef outlet 1')
  })
  it('lets one go, or hangs it on a DC port', async () => {
    mount(BesideLoads, { ...props, station: { name: 'Pail', dc_port_v: 12, dc_ports: '24: 10; 5: 3' } as Station })
    await choose('Where Reef is plugged in', 'USB')
    expect(session.edit.mock.calls[0]).toEqual([
      'Reef on USB',
      [
        { doc: 'p', op: 'replace', path: '/feeds/cord-reef/port', value: 'dc' },
        { doc: 'p', op: 'replace', path: '/feeds/cord-reef/port_v', value: 5 },
      ],
    ])
    saying('remove').click()
    expect(session.edit.mock.calls[1]).toEqual([
      'Reef off Pail',
      [{ doc: 'p', op: 'remove', path: '/feeds/cord-reef' }],
    ])
  })
})
