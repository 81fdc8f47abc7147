/** Calls of a routine's address that work when they are pasted, for the shell and for Python. */
export interface Call {
  /** Of the address, with what is asked for behind it. */
  url: string
  token: string
  key: string
  inputs: unknown
}
interface Wanted {
  type?: string
  enum?: unknown[]
  examples?: unknown[]
  default?: unknown
  format?: string
  properties?: Record<string, Wanted>
  required?: string[]
}
const BLANKS: Record<string, unknown> = { string: '…', integer: 0, number: 0, boolean: false, array: [] }

/** Something that could stand for an input: what its schema gives as an example, else one of its type. */
function sample(one: Wanted): unknown {
  const said = one.default ?? one.examples?.[0] ?? one.enum?.[0]
  if (said !== undefined) return said
  if (one.type !== 'object') return BLANKS[one.type ?? 'string']
  return Object.fromEntries((one.required ?? []).map((name) => [name, sample(one.properties?.[name] ?? {})]))
}

/** The inputs of the set-up, with a sample for what a start needs beside them. */
export function sampleInputs(schema: unknown, setUp: Record<string, unknown>): Record<string, unknown> {
  const needed = (sample({ ...(schema as Wanted), type: 'object' }) ?? {}) as Record<string, unknown>
  return { ...needed, ...setUp }
}

const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`

export function forShell({ url, token, key, inputs }: Call): string {
  return [
    '# One key for each start: sent again, it gives the same run.',
    `curl -sS -X POST ${quoted(url)} \\`,
    `  -H ${quoted(`Authorization: Bearer ${token}`)} \\`,
    `  -H ${quoted(`Idempotency-Key: ${key}`)} \\`,
    `  -H 'Content-Type: application/json' \\`,
    `  -d ${quoted(JSON.stringify(inputs))}`,
  ].join('\n')
}

/** A value as Python writes it. */
export function inPython(value: unknown): string {
  if (value === null || value === undefined) return 'None'
  if (typeof value === 'boolean') return value ? 'True' : 'False'
  if (Array.isArray(value)) return `[${value.map(inPython).join(', ')}]`
  if (typeof value === 'object') {
    const parts = Object.entries(value).map(([name, one]) => `${JSON.stringify(name)}: ${inPython(one)}`)
    return `{${parts.join(', ')}}`
  }
  return JSON.stringify(value)
}

export function forPython({ url, token, key, inputs }: Call): string {
  return [
    'import json',
    'import urllib.request',
    '',
    'call = urllib.request.Request(',
    `    ${JSON.stringify(url)},`,
    `    data=json.dumps(${inPython(inputs)}).encode(),`,
    '    headers={',
    `        "Authorization": ${JSON.stringify(`Bearer ${token}`)},`,
    '        # One key for each start: sent again, it gives the same run.',
    `        "Idempotency-Key": ${JSON.stringify(key)},`,
    '        "Content-Type": "application/json",',
    '    },',
    '    method="POST",',
    ')',
    'with urllib.request.urlopen(call) as answer:',
    '    print(json.load(answer))',
  ].join('\n')
}
