import { expect, it } from 'vitest'
import CloseMatches from '@/ideas/CloseMatches.vue'
import { onPage } from '../within'

const match = (id: number, verdict: string | null = null) => ({
  id,
  title: `Idea ${id}`,
  what: 'Order reagents before they run out',
  stage: 'noted',
  score: 60,
  words: ['reagent', 'order'],
  plausible: true,
  verdict,
  by: null,
})

it('numbers what asks for a verdict, as the keys do, and folds the rest', async () => {
  const { wrapper } = await onPage(CloseMatches, {
    asked: [match(4), match(5, 'same')],
    unlikely: [match(6)],
    verdict: (one: { verdict: string | null }) => one.verdict,
  })
  expect(wrapper.findAll('kbd').map((one) => one.text())).toEqual(['1', '2'])
  expect(wrapper.text()).toContain('Both say reagent, order')
  expect(wrapper.text()).toContain('1 other shares only common words')
  const pressed = wrapper.findAll('[aria-pressed=true]').map((one) => one.text())
  expect(pressed).toEqual(['Same'])
  await wrapper.findAll('[aria-pressed]')[1]?.trigger('click')
  expect(wrapper.emitted('settle')?.[0]?.[1]).toBe('other')
})

it('says that none is likely to be the same work', async () => {
  const { wrapper } = await onPage(CloseMatches, { asked: [], unlikely: [], verdict: () => null })
  expect(wrapper.text()).toBe('No other idea is likely to be the same work.')
})
