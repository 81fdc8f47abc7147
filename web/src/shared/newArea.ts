/** The area made a moment ago: what is made next usually belongs there, and is offered it first. */
const KEY = 'tallyman-new-area'
const MOMENT_MS = 15 * 60_000

interface Made {
  id: number
  at: number
}

/** Notes an area that was just made in this tab. */
export function noteNewArea(id: number, now = Date.now()): void {
  sessionStorage.setItem(KEY, JSON.stringify({ id, at: now } satisfies Made))
}

/** The area made a moment ago, if it is among those to choose from. */
export function newArea(among: readonly { id: number }[], now = Date.now()): number | null {
  try {
    const made = JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as Made | null
    const fresh = made !== null && now - made.at < MOMENT_MS && among.some((one) => one.id === made.id)
    return fresh ? made.id : null
  } catch {
    return null
  }
}
