import { expect, test } from 'vitest'
import type { Schemas } from '@/api/client'
import { copied, emptyInterview, ownKey, sent } from '@/ideas/interviewDraft'

const question = (key: string, standard: boolean, choices: string[] = []) => ({
  ...{ key, text: `About ${key}`, help: '', needed: false, standard, choices },
  kind: standard ? 'text' : 'choice',
})
const FOUND = {
  kind: 'full',
  title: 'The whole interview',
  about: 'Five minutes',
  offered: true,
  steps: [{ title: 'The work', questions: [question('title', true), question('own-1', false, ['a', 'b'])] }],
  left_out: [
    { key: 'files', text: 'Something to show?', help: '' },
    { key: 'owner', text: 'Who answers for it?', help: '' },
  ],
} as unknown as Schemas['InterviewOut']

test('an interview is changed in a copy of its own', () => {
  const draft = copied(FOUND)
  draft.steps[0]!.questions[1]!.choices.push('c')
  draft.steps[0]!.questions.pop()
  expect(FOUND.steps[0]?.questions).toHaveLength(2)
  expect(FOUND.steps[0]?.questions[1]?.choices).toEqual(['a', 'b'])
})

test('what is left out can be put in again, files as files', () => {
  expect(copied(FOUND).left_out.map((one) => [one.key, one.kind, one.standard])).toEqual([
    ['files', 'files', true],
    ['owner', '', true],
  ])
})

test('another begins as a copy without a name, and is not offered yet', () => {
  const fresh = emptyInterview(FOUND)
  expect([fresh.title, fresh.about, fresh.offered]).toEqual(['', '', false])
  expect(fresh.steps).toHaveLength(1)
  expect(emptyInterview(undefined)).toMatchObject({ steps: [], left_out: [] })
})

test('standard questions go by their key, own ones with how they are answered', () => {
  const given = sent(copied(FOUND))
  expect(given.steps[0]?.questions.map((one) => [one.key, one.kind, one.choices])).toEqual([
    ['title', '', []],
    ['own-1', 'choice', ['a', 'b']],
  ])
  expect(given).not.toHaveProperty('left_out')
})

test('a question of our own gets a key that is free', () => {
  expect(ownKey([])).toBe('own-1')
  expect(ownKey(['own-1', 'title', 'own-3'])).toBe('own-2')
})
