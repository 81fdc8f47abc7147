import type { Schemas } from '@/api/client'

/** The strokes of how a page stands, and its word. */
export const SHAPES: Record<Schemas['PageCard']['word'], string> = {
  ready: 'met',
  waits: 'waiting',
  'not now': 'cancelled',
}
export const WORDS: Record<Schemas['PageCard']['word'], string> = {
  ready: 'ready',
  waits: 'would wait',
  'not now': 'not now',
}
/** How the state of a page is said to those who publish it. */
export const PAGE_SHAPES: Record<Schemas['ManagedPage']['state'], string> = {
  open: 'met',
  paused: 'held',
  'taken back': 'cancelled',
}
/** The states of runs that are still on their way. */
export const OPEN = ['waiting', 'running', 'held']
