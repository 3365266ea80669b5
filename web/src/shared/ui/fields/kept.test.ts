import { describe, expect, it } from 'vitest'
import { h, nextTick, ref, withDirectives } from 'vue'
import { element, mount } from '@/testing/mount'
import { kept } from './kept'

const value = ref('25 ft')
const field = () => element<HTMLInputElement>('input')

describe('a field whose value comes from the server', () => {
  const show = () => {
    value.value = '25 ft'
    mount({ render: () => withDirectives(h('input'), [[kept, value.value]]) })
  }

  it('follows it', async () => {
    show()
    value.value = '30 ft'
    await nextTick()
    expect(field().value).toBe('30 ft')
  })

  it('is left alone while someone types, and follows again once that is sent', async () => {
    show()
    field().focus()
    field().value = '2'
    value.value = '26 ft'
    await nextTick()
    expect(field().value).toBe('2')
    field().value = '200 ft'
    field().dispatchEvent(new Event('change'))
    value.value = '199.9 ft'
    await nextTick()
    expect(field().value).toBe('199.9 ft')
  })
})
