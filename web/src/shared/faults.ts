import { ProblemError } from '@/api/client'

/** The message for one field out of a problem, or undefined. */
export function faultOf(error: unknown, ...names: string[]): string | undefined {
  if (!(error instanceof ProblemError)) return undefined
  return error.faults.find((fault) =>
    names.some((name) => fault.field === name || fault.field.startsWith(`${name}.`)),
  )?.message
}
