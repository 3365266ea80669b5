import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Feed } from '@/shared/api/types'
import { mount, saying, text } from '@/testing/mount'
import { circuit, feed, home, plan } from '@/testing/samples'
import StanceControl from './StanceControl.vue'

const session = vi.hoisted(() => ({ edit: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))
beforeEach(() => session.edit.mockClear())

const reef = circuit('reef', [5], { name: 'Reef' })
function show(more: Partial<Feed>) {
  const fed = feed('reef', 1, { stance: 'turns', ...more })
  mount(StanceControl, { target: { kind: 'circuit', id: 'reef' }, home: home([reef]), plan: plan([fed]) })
}

describe('what gives a circuit its turn', () => {
  it.each<[Partial<Feed>, string]>([
    [{ windows: [], share: 0.4 }, 'Turns 40% of the time, change'],
    [{ windows: [{ start_h: 8, end_h: 20, days: 'all' }] }, 'Turns by the clock, change'],
    [{ turn_by: 'charge', above: 0.65 }, 'Turns above 65%, change'],
    [{ turn_by: 'surplus' }, 'Turns on spare solar power, change'],
  ])('%o stands in words', (more, words) => {
    show(more)
    expect(text('.turn')).toBe(words)
  })
  it('is not asked of what keeps on', () => {
    show({ stance: 'keep_on' })
    expect(document.querySelector('.turn')).toBeNull()
    expect(saying('Keep on').getAttribute('aria-pressed')).toBe('true')
  })
})
