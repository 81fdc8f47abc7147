/** Seeing the application as a role or somebody else would: kept for this tab only, sent with each call. */
const PLACE = 'tallyman-see-as'

export function seenAs(): string | null {
  return sessionStorage.getItem(PLACE)
}

/** Begins to see as `person:7`, `role:3` or `role:3:12`; everything shown is asked for again. */
export function seeAs(spec: string): void {
  sessionStorage.setItem(PLACE, spec)
  location.assign('/')
}

/** Sees as oneself again. */
export function seeAsOneself(): void {
  sessionStorage.removeItem(PLACE)
  location.assign('/house/people')
}
