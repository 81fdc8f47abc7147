import { expect, it, vi } from 'vitest'
import PromiseLook from '@/cases/PromiseLook.vue'
import { onPage } from '../within'

const ME = { currency: 'EUR', permissions: [], locale: 'en-GB', zone: 'UTC' }
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET: () => Promise.resolve({ data: ME, response: new Response() }) },
}))

const figures = (npv: string, months: string | null) => ({
  saving_per_year: '20000.00',
  running_cost_per_year: '5000.00',
  one_time_cost: '6000.00',
  npv_3y: npv,
  payback_months: months,
  payback_said: months ? '' : 'not within 60 months',
  robots: 1,
})
const data = (today: object | null) => ({
  figures: figures('48169.00', '4.1'),
  go_live: '2026-12-30',
  tables: {
    day: '2026-11-03',
    why: 'the day of agreement',
    today,
    rows: [
      {
        kind: 'seat_year',
        name: 'A seat',
        value: '5200',
        today: today ? '9400' : null,
        unit: 'money a year',
      },
    ],
  },
})

it('says that what is promised is what is expected, where the rows are the same', async () => {
  const { wrapper } = await onPage(PromiseLook, { data: data(null), modelValue: false })
  expect(wrapper.text()).toContain("Today's rows are the same")
  expect(wrapper.findAll('th')).toHaveLength(2)
})

it('shows both, and what moved, where they are not; either can be frozen', async () => {
  const { wrapper } = await onPage(PromiseLook, { data: data(figures('38189.00', null)), modelValue: false })
  expect(wrapper.text()).toContain('48,169')
  expect(wrapper.findAll('b').map((one) => one.text())).toEqual([
    expect.stringContaining('38,189'),
    'not within 60 months',
  ])
  expect(wrapper.text().replace(/\s+/g, ' ')).toMatch(/A seat .*5,200.*→.*9,400/)
  await wrapper.findAll('input[type=radio]')[1]?.setValue(true)
  expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual([true])
})
