import type { Kind } from '@/shared/number'

const SHARES = /_share$|^share_(low|high|override)$|discount_rate/

/** What the number of a fact stands for: a share, typed in hundredths, or a plain number. */
export const kindOf = (field: string): Kind => (SHARES.test(field) ? 'share' : 'number')
