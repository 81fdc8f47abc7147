import { number } from '@/shared/format'

/** How far a clock is off, in seconds; what is under a twentieth is nothing. */
export const apart = (ms: number): string => number(Math.abs(ms) < 50 ? 0 : ms / 1000, 1, 1)
