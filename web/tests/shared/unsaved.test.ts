import { beforeEach, expect, test } from 'vitest'
import { nextTick, ref } from 'vue'
import { draftsOf, dropOldDrafts, unsaved, useDraft, useUnsaved } from '@/shared/unsaved'
import { within } from '../within'

beforeEach(() => {
  localStorage.clear()
  draftsOf(7)
})
function talk(place = 'talk-104') {
  const text = ref('')
  const { given: draft, wrapper } = within(() => useDraft('What you say', () => place, { text }))
  return { text, draft, wrapper }
}

test('what is typed stands there again when its writer comes back, and says since when', async () => {
  const first = talk()
  first.text.value = 'The list comes twice'
  await nextTick()
  first.wrapper.unmount()
  const again = talk()
  expect(again.text.value).toBe('The list comes twice')
  expect(Date.parse(again.draft.from.value ?? '')).not.toBeNaN()
  expect(again.draft.dirty.value).toBe(true)
})

test('drafts are of one person and one object', async () => {
  const first = talk()
  first.text.value = 'mine'
  await nextTick()
  first.wrapper.unmount()
  expect(talk('talk-105').text.value).toBe('')
  draftsOf(8)
  expect(talk().text.value).toBe('')
})

test('what was sent is kept no longer, whether or not its field is emptied', async () => {
  const sent = talk()
  sent.text.value = 'sent'
  await nextTick()
  sent.draft.done()
  sent.text.value = ''
  await nextTick()
  expect(sent.draft.dirty.value).toBe(false)
  sent.wrapper.unmount()
  expect(talk().text.value).toBe('')
})

test('typing goes on after something was sent', async () => {
  const { text, draft, wrapper } = talk()
  text.value = 'one'
  await nextTick()
  draft.done()
  text.value = ''
  await nextTick()
  text.value = 'two'
  await nextTick()
  expect(draft.dirty.value).toBe(true)
  wrapper.unmount()
  expect(talk().text.value).toBe('two')
})

test('a field that is as it was holds nothing unsaved', async () => {
  const { text, draft, wrapper } = talk()
  text.value = 'a thought'
  await nextTick()
  expect(unsaved().map((one) => one.what)).toEqual(['What you say'])
  text.value = ''
  await nextTick()
  expect(draft.dirty.value).toBe(false)
  expect(unsaved()).toEqual([])
  wrapper.unmount()
  expect(localStorage.length).toBe(0)
})

test('thrown away, a form is as the server has it', async () => {
  function name() {
    const field = ref('Plant North')
    const { given, wrapper } = within(() => useDraft('Name', () => 'area-3', { field }))
    return { field, draft: given, wrapper }
  }
  const first = name()
  first.field.value = 'Plant N'
  await nextTick()
  first.wrapper.unmount()
  const again = name()
  expect(again.field.value).toBe('Plant N')
  again.draft.drop()
  await nextTick()
  expect(again.field.value).toBe('Plant North')
  expect(again.draft.dirty.value).toBe(false)
  again.wrapper.unmount()
  expect(name().field.value).toBe('Plant North')
})

test('a form filled by the server waits for it, and brings back the version it was typed on', async () => {
  function rules(version: number) {
    const rows = ref<string[]>([])
    const loaded = ref(false)
    const seen = ref(version)
    const { given, wrapper } = within(() =>
      useDraft('Rules', () => 'rules', { rows }, { ready: () => loaded.value, seen }),
    )
    return { rows, loaded, seen, draft: given, wrapper }
  }
  const first = rules(3)
  first.rows.value = ['noted']
  first.loaded.value = true
  await nextTick()
  expect(first.draft.dirty.value).toBe(false)
  first.rows.value = ['noted', 'sized']
  await nextTick()
  first.wrapper.unmount()

  const later = rules(5)
  later.rows.value = ['noted', 'backed']
  later.loaded.value = true
  await nextTick()
  expect(later.rows.value).toEqual(['noted', 'sized'])
  expect(later.seen.value).toBe(3)
})

test('what nobody came back to for a month goes, and what cannot be read', async () => {
  const { text } = talk()
  text.value = 'still'
  await nextTick()
  localStorage.setItem('tallyman-draft-7-broken', '{')
  localStorage.setItem('tallyman-theme', 'dark')
  dropOldDrafts(new Date())
  expect(Object.keys(localStorage).sort()).toEqual(['tallyman-draft-7-talk-104', 'tallyman-theme'])
  dropOldDrafts(new Date(Date.now() + 31 * 86_400_000))
  expect(Object.keys(localStorage)).toEqual(['tallyman-theme'])
})

test('what must not be kept in the browser still warns', () => {
  const { wrapper } = within(() => useUnsaved('The secret', () => true))
  expect(unsaved()).toMatchObject([{ what: 'The secret', kept: false }])
  wrapper.unmount()
  expect(unsaved()).toEqual([])
})

test('a form that is closed holds nothing back, and opens with its words when its writer comes back', async () => {
  function asking() {
    const open = ref(false)
    const words = ref('')
    const { given, wrapper } = within(() => useDraft('A question', () => 'ask', { words }, { open }))
    return { open, words, draft: given, wrapper }
  }
  const first = asking()
  first.open.value = true
  await nextTick()
  expect(first.draft.dirty.value).toBe(false)
  first.words.value = 'Which list?'
  await nextTick()
  expect(first.draft.dirty.value).toBe(true)
  first.wrapper.unmount()
  const again = asking()
  expect([again.open.value, again.words.value]).toEqual([true, 'Which list?'])
  again.open.value = false
  await nextTick()
  expect(again.draft.dirty.value).toBe(false)
  again.wrapper.unmount()
  expect([asking().open.value, asking().words.value]).toEqual([false, 'Which list?'])
})

test('what is on its way is not asked about, and stands there again when it comes back', async () => {
  const first = talk()
  first.text.value = 'too few come'
  await nextTick()
  const back = first.draft.sent()
  expect(first.draft.dirty.value).toBe(false)
  await nextTick()
  first.wrapper.unmount()
  const other = talk()
  expect(other.text.value).toBe('')
  other.wrapper.unmount()
  back()
  expect(talk().text.value).toBe('too few come')
})
