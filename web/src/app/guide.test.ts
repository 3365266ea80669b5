import { describe, expect, it } from 'vitest'
import { PAGE_NAMES } from '@/shared/pageNames'
import { guide, PAGE_TITLES, pageFor } from './guide'

describe('the guide', () => {
  it('has a page for every place, and it can be read', async () => {
    for (const place of Object.keys(PAGE_NAMES)) expect(guide[pageFor(place)], place).toBeDefined()
    expect(Object.keys(guide).filter((name) => !PAGE_TITLES[name])).toEqual([])
    expect(pageFor('nowhere')).toBe('tour')
    expect(await guide.tour!()).toContain('# ')
  })

  it('links only to pages that are there', async () => {
    for (const [name, load] of Object.entries(guide)) {
      for (const [, page] of (await load()).matchAll(/\]\((\w[\w-]*)\.md/g))
        expect(guide[page!], `${name} → ${page}`).toBeDefined()
    }
  })
})
