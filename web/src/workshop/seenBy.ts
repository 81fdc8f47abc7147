import type { Schemas } from '@/api/client'

export type SeenBy = Schemas['SeenByIn']['seen_by']

/** Who may see a release, in the words of a choice. */
export const SEEN_BY: readonly { value: SeenBy; words: string }[] = [
  { value: 'company', words: 'the company: everybody who sees packages' },
  { value: 'area', words: 'one area: whoever works in it, above or below it' },
  { value: 'maker', words: 'me alone: a try-out, which gets its number once others see it' },
]

/** Who sees a release, in a few words. */
export function seenBy(one: { seen_by: SeenBy; area: string | null }): string {
  if (one.seen_by === 'area') return `the area ${one.area}`
  return one.seen_by === 'maker' ? 'you alone' : 'the company'
}
