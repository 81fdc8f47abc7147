import { expect, it } from 'vitest'
import SheetColumnRead from '@/ideas/SheetColumnRead.vue'
import SheetLines from '@/ideas/SheetLines.vue'
import SheetReady from '@/ideas/SheetReady.vue'
import SheetWords from '@/ideas/SheetWords.vue'
import { matched, matchOf, type Line, type Sheet } from '@/ideas/useSheet'
import { onPage } from '../within'

const column = (head: string, field: string, more = {}) => ({
  head,
  field,
  read: [{ theirs: '1.200', ours: '1200 a year', fault: '' }],
  filled: 3,
  unread: 0,
  ways: [],
  ...more,
})
const line = (more: Partial<Line> = {}): Line => ({
  line: 2,
  title: 'Valve list',
  state: 'in',
  idea: null,
  faults: [],
  notes: [],
  open: true,
  raw: '',
  mended: false,
  choice: null,
  differs: [],
  stage: 'noted',
  ...more,
})
const sheet = (more: Partial<Sheet> = {}): Sheet => ({
  id: 4,
  name: 'l.csv',
  page: '',
  pages: [''],
  head_row: 1,
  above: [['Title', 'Volume']],
  columns: [column('Title', 'title'), column('Volume', 'volume')],
  match: { title: 0, volume: 1 },
  asked: [],
  fields: [
    { value: 'title', words: 'What the work is called', needed: true },
    { value: 'volume', words: 'How often it comes', needed: false },
    { value: 'what', words: 'What happens in it', needed: false },
  ],
  words: [],
  more_words: 0,
  ours: { kind: ['scan', 'mail'], state: ['noted', 'out'] },
  stage: 'noted',
  why: '',
  back_on: null,
  declined_for: '',
  decline_reasons: [],
  without_people: false,
  without_values: false,
  ends_early: false,
  lines: [line()],
  counts: { in: 1, here: 0, repeat: 0, conflict: 0, fault: 0 },
  stages: { noted: 1 },
  total: 1,
  limits: [],
  version: 1,
  errand: null,
  errand_state: null,
  errand_done: 0,
  errand_words: '',
  ...more,
})

it('takes a column for one thing, each thing from one column, and a choice for an answer', () => {
  const now = matchOf(sheet({ asked: ['title', 'volume', 'head'] }))
  const next = matched(now, 1, 'title')
  expect(next.columns).toEqual({ title: 1 })
  expect(next.asked).toEqual(['head'])
  expect(matched(now, 0, '').columns).toEqual({ volume: 1 })
})

it('keeps how columns are written only where somebody said so', () => {
  const way = (name: string, value: string, chosen: boolean) => ({ name, value, choices: [value], chosen })
  const ways = [way('rhythm', 'year', true), way('decimal', '.', false)]
  const now = matchOf(sheet({ columns: [column('Title', 'title'), column('Volume', 'volume', { ways })] }))
  expect(now.ways).toEqual({ volume: { rhythm: 'year' } })
})

it('shows a cell as it came beside how it is read, and once why one cannot be', async () => {
  const read = [
    { theirs: '1.200', ours: '1200 a year', fault: '' },
    { theirs: 'lots', ours: '', fault: 'is not a number' },
    { theirs: 'Two', ours: 'Two', fault: '' },
  ]
  const { wrapper } = await onPage(SheetColumnRead, {
    column: column('Volume', 'volume', { read, unread: 4 }),
  })
  const text = wrapper.text()
  expect(text).toContain('→ 1200 a year')
  expect(text).toContain('is not a number')
  expect(text).toContain('4 cells cannot be read')
  expect(text).not.toContain('→ Two')
})

it('says first what becomes of the lines as it stands', async () => {
  const counts = { in: 60, here: 0, repeat: 4, conflict: 0, fault: 2 }
  const { wrapper } = await onPage(SheetReady, { sheet: sheet({ total: 66, counts }), error: null })
  expect(wrapper.find('[role=status]').text()).toContain('60 come in, 4 stand twice, 2 stay out')
})

it('asks for words that say nothing, and folds those that are known', async () => {
  const words = [
    { of: 'kind', theirs: 'Anruf', lines: 21, ours: null, words: '', how: '', near: '' },
    { of: 'kind', theirs: 'Papier', lines: 22, ours: 'scan', words: 'scan', how: 'read', near: '' },
    { of: 'rhythm', theirs: 'pro Woche', lines: 64, ours: null, words: '', how: '', near: '' },
  ]
  const { wrapper } = await onPage(SheetWords, { sheet: sheet({ words }) })
  expect(wrapper.text()).toContain('2 words say nothing here yet')
  expect(wrapper.text()).toContain('kind of input, in 21 lines')
  expect(wrapper.text()).toContain('1 word that is known')
  // A volume without a rhythm is none: its word cannot be left empty.
  expect(wrapper.findAll('button').filter((one) => one.text() === 'Leave empty')).toHaveLength(1)
})

it('lets each cell be mended once, a row that does not fit as its own text, and keeps the rest in words', async () => {
  const fault = (field: string, at: number | null, message: string) => ({
    field,
    column: field,
    value: 'x',
    message,
    at,
    cell: 'x',
  })
  const lines = [
    line({
      line: 2,
      state: 'fault',
      faults: [fault('minutes', 2, 'is not minutes'), fault('minutes', 2, 'is out of range')],
    }),
    line({ line: 3, state: 'fault', raw: 'a;"b', faults: [fault('row', null, 'opens a quotation mark')] }),
    line({ line: 4, state: 'fault', faults: [fault('owner', null, 'is needed')] }),
  ]
  const counts = { in: 0, here: 0, repeat: 0, conflict: 0, fault: 3 }
  const { wrapper } = await onPage(SheetLines, { sheet: sheet({ lines, counts }), past: false })
  const inputs = wrapper.findAll('input').map((one) => [one.attributes('aria-label'), one.element.value])
  expect(inputs).toEqual([
    ['minutes in line 2', 'x'],
    ['Line 3 as it stands', 'a;"b'],
  ])
})

it('shows both sides of a conflict and what can be said of it', async () => {
  const differs = [{ field: 'Minutes each', theirs: '9', ours: '5' }]
  const lines = [line({ line: 3, state: 'conflict', open: false, idea: 12, differs })]
  const counts = { in: 0, here: 0, repeat: 0, conflict: 1, fault: 0 }
  const { wrapper } = await onPage(SheetLines, { sheet: sheet({ lines, counts }), past: false })
  const heads = wrapper.findAll('.differs th').map((one) => one.text())
  expect(heads).toEqual(['It says otherwise', 'in this line', 'in I-12'])
  expect(wrapper.findAll('.differs td').map((one) => one.text())).toEqual(['Minutes each', '9', '5'])
  expect(wrapper.text()).toContain('Another idea: bring it in')
})
