import { ProblemError } from '@/api/client'

/** The message for one field out of a problem, or undefined. */
export function faultOf(error: unknown, ...names: string[]): string | undefined {
  if (!(error instanceof ProblemError)) return undefined
  return error.faults.find((fault) =>
    names.some((name) => fault.field === name || fault.field.startsWith(`${name}.`)),
  )?.message
}

/** A field in words: ours in plain ones, a package's own inputs by the name that it gave them. */
export function fieldWords(field: string): string {
  const own = /^(inputs|outputs)\.(.+)$/.exec(field)
  return own ? `${own[1]!.slice(0, -1)} ${own[2]}` : field.replaceAll('_', ' ')
}
