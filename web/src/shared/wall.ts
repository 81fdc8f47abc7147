/** Times as clocks on the wall show them, in a zone of one's own choice. */

/** What a clock in the zone shows at an instant, less the instant: its distance from UTC in milliseconds. */
export function offset(at: number, zone: string): number {
  const parts = new Intl.DateTimeFormat('en', {
    timeZone: zone,
    hourCycle: 'h23',
    ...{ year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric' },
  }).formatToParts(new Date(at))
  const part = (name: string) => Number(parts.find((one) => one.type === name)?.value)
  const shown = Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'))
  return shown - Math.floor(at / 60_000) * 60_000
}

/** The instant at which a clock in the zone shows a time; one that a change of clocks leaves out is the one after. */
export function instant(wall: number, zone: string): number {
  const guess = wall - offset(wall, zone)
  return wall - offset(guess, zone)
}

/** What a clock in the zone shows at a moment such as 2026-10-02T16:00:00Z: 2026-10-02T18:00; empty for no moment. */
export function wallOf(moment: string, zone: string): string {
  const at = Date.parse(moment)
  return Number.isNaN(at) ? '' : new Date(at + offset(at, zone)).toISOString().slice(0, 16)
}

/** The moment at which a clock in the zone shows 2026-10-02T18:00, as 2026-10-02T16:00:00Z. */
export function momentOf(wall: string, zone: string): string {
  return new Date(instant(Date.parse(`${wall}Z`), zone)).toISOString().replace('.000Z', 'Z')
}
