/** Of a host's readings: from when to when somebody was at it, or its screen was locked. */
export interface Span {
  what: string
  from: string
  /** The last reading that said so; null where it is so still. */
  to: string | null
}
const TOLD = new Set(['in use', 'locked'])

/** The spans of readings in a row that say the same, the latest first; readings that say nothing end one. */
export function spansOf(readings: readonly { at: string; screen: string }[]): Span[] {
  const spans: Span[] = []
  let before = ''
  for (const one of readings) {
    const last = spans.at(-1)
    if (TOLD.has(one.screen)) {
      if (last && before === one.screen) last.to = one.at
      else spans.push({ what: one.screen, from: one.at, to: one.at })
    }
    before = one.screen
  }
  const last = spans.at(-1)
  if (last && before === last.what) last.to = null
  return spans.reverse()
}
