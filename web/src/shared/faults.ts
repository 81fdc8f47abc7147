import { ProblemError } from '@/api/client'

/** The message for one field out of a problem, or undefined. */
export function faultOf(error: unknown, ...names: string[]): string | undefined {
  if (!(error instanceof ProblemError)) return undefined
  return error.faults.find((fault) =>
    names.some((name) => fault.field === name || fault.field.startsWith(`${name}.`)),
  )?.message
}

/** The fault of exactly this field, not of what lies within it. */
export function faultAt(error: unknown, name: string): string | undefined {
  return error instanceof ProblemError
    ? error.faults.find((fault) => fault.field === name)?.message
    : undefined
}

/** A field in words: ours in plain ones, a package's own inputs by the name that it gave them. */
export function fieldWords(field: string): string {
  const own = /^(inputs|outputs)\.(.+)$/.exec(field)
  return own ? `${own[1]!.slice(0, -1)} ${own[2]}` : field.replaceAll('_', ' ')
}
