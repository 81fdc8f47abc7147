import { describe, expect, it, vi } from 'vitest'
import HandedFiles from '@/shared/HandedFiles.vue'
import { onPage } from '../within'

// Who reads it is asked for by the times beside the files.
vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  api: { GET: vi.fn() },
  ask: () => Promise.resolve({ zone: 'UTC', locale: 'en-GB', permissions: [], everywhere: [] }),
}))

describe('files that a run handed over', () => {
  const file = (id: number, name: string) => ({ id, name, size: 20, at: '2026-03-10T09:00:00Z' })

  it('are looked into where that can be shown, and taken else', async () => {
    vi.stubGlobal('fetch', vi.fn().mockResolvedValue(new Response('Dear street')))
    const { wrapper } = await onPage(HandedFiles, { at: '/f', files: [file(1, 'a.txt'), file(2, 'b.pdf')] })
    expect(wrapper.findAll('button')).toHaveLength(1)
    await wrapper.find('button').trigger('click')
    await vi.waitFor(() => expect(wrapper.find('pre').text()).toBe('Dear street'))
    expect(wrapper.find('button').attributes('aria-expanded')).toBe('true')
    vi.unstubAllGlobals()
  })

  it('say so where one cannot be read', async () => {
    vi.stubGlobal('fetch', vi.fn().mockResolvedValue(new Response('', { status: 404 })))
    const { wrapper } = await onPage(HandedFiles, { at: '/f', files: [file(1, 'a.txt')] })
    await wrapper.find('button').trigger('click')
    await vi.waitFor(() => expect(wrapper.text()).toContain('a.txt could not be read'))
    vi.unstubAllGlobals()
  })
})
