import { FIELDS } from '@/api/words'
import type { Kind } from '@/shared/number'

/** What the number of a fact stands for: a share, typed in hundredths, or a plain number. */
export const kindOf = (field: string): Kind => (FIELDS[field]?.stands === 'share' ? 'share' : 'number')
