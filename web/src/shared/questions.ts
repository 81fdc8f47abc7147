import type { Schemas } from '@/api/client'

export type Question = Schemas['Answer']
export interface Volume {
  amount: string
  rhythm: string
}
export interface Kind {
  kind: string
  part: string
}

/** An answer in words. */
export function said(question: Question): string {
  const value = question.value as unknown
  if (value === null || value === undefined) return 'not known'
  if (question.kind === 'volume') {
    const volume = value as Volume
    return `${volume.amount} a ${volume.rhythm}`
  }
  if (question.kind === 'arrives')
    return (value as Kind[]).map((row) => `${row.kind} (${row.part})`).join(', ')
  if (question.kind === 'of ten') return `${String(value)} of 10`
  if (question.key === 'minutes') return `${String(value)} minutes`
  if (question.kind === 'choice') {
    return question.choices.find((choice) => choice.value === value)?.words ?? String(value)
  }
  return String(question.shown ?? value)
}

/** Whether a value is enough to be sent. */
export function filled(question: Question, value: unknown): boolean {
  if (value === null || value === undefined || value === '') return false
  if (question.kind === 'volume') return (value as Volume).amount !== ''
  if (question.kind === 'arrives') return (value as Kind[]).length > 0
  return true
}
