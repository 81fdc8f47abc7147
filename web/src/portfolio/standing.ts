import type { Schemas } from '@/api/client'

type Row = Pick<Schemas['RankedIdea'], 'go_live' | 'promised_go_live' | 'live_on'>

/** Whether a backed idea keeps to its go-live: it is over and did not come, or later than promised. */
export function standing(
  row: Row,
  today = new Date().toISOString().slice(0, 10),
): 'over' | 'late' | 'in time' {
  if (row.live_on || !row.go_live) return 'in time'
  if (row.go_live < today) return 'over'
  return row.promised_go_live && row.go_live > row.promised_go_live ? 'late' : 'in time'
}
