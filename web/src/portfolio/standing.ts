import type { Schemas } from '@/api/client'

type Row = Pick<Schemas['RankedIdea'], 'go_live' | 'promised_go_live' | 'live_on'>

/** Whether a backed idea keeps to its go-live: it is over and did not come, or later than promised; `today` is the reader's day. */
export function standing(row: Row, today: string): 'over' | 'late' | 'in time' {
  if (row.live_on || !row.go_live) return 'in time'
  if (row.go_live < today) return 'over'
  return row.promised_go_live && row.go_live > row.promised_go_live ? 'late' : 'in time'
}
