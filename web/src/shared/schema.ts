/** What a package says of one of its inputs: the part of JSON Schema that packages may declare. */
export interface Schema {
  type?: string
  format?: string
  title?: string
  description?: string
  default?: unknown
  examples?: unknown[]
  enum?: unknown[]
  const?: unknown
  properties?: Record<string, Schema>
  required?: string[]
  items?: Schema
  minItems?: number
  maxItems?: number
  maxLength?: number
  minimum?: number
  maximum?: number
}

/** By what kind of field a value is asked for. */
export type FieldKind =
  'always' | 'choice' | 'yes' | 'number' | 'file' | 'day' | 'moment' | 'text' | 'table' | 'list' | 'json'

// A text that may be so long is written in several lines.
const LONG = 200
const LONGEST_SHOWN = 60
const FORMATS: Record<string, FieldKind> = { file: 'file', date: 'day', 'date-time': 'moment' }

/** By what kind of field a schema is asked for; what says nothing of what lies within is written as JSON. */
export function kindOf(schema: Schema): FieldKind {
  if (schema.const !== undefined) return 'always'
  if (schema.enum) return 'choice'
  if (schema.type === 'boolean') return 'yes'
  if (schema.type === 'integer' || schema.type === 'number') return 'number'
  if (schema.type === 'object') return schema.properties ? 'table' : 'json'
  if (schema.type === 'array') return schema.items ? 'list' : 'json'
  return FORMATS[schema.format ?? ''] ?? 'text'
}

const SAID: Partial<Record<FieldKind, string>> = { yes: 'yes or no' }

/** What kind of value it is, in words; of a list also of what. */
export function kindSaid(schema: Schema): string {
  const kind = kindOf(schema)
  if (kind === 'choice') return `one of ${schema.enum!.map(inWords).join(', ')}`
  if (kind === 'always') return `always ${inWords(schema.const)}`
  if (kind === 'list') return `list, each: ${kindSaid(schema.items!)}`
  if (kind === 'table') return `values by name: ${Object.keys(schema.properties!).join(', ')}`
  if (kind === 'json') return schema.type === 'array' ? 'list' : 'values by name'
  if (schema.format === 'time') return 'time of day'
  return schema.type === 'integer' ? 'whole number' : (SAID[kind] ?? kind)
}

/** Whether a text is asked for in several lines. */
export const isLong = (schema: Schema): boolean => (schema.maxLength ?? 0) >= LONG

/** A value in a few words. */
export function inWords(value: unknown): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  const words = typeof value === 'string' ? value : JSON.stringify(value)
  return words.length > LONGEST_SHOWN ? `${words.slice(0, LONGEST_SHOWN - 1)}…` : words
}

/** What stands beside a field: what it is for, an example, and what it is if nothing is given. */
export function hintOf(schema: Schema): string {
  const such = schema.examples?.slice(0, 2).map(inWords).join(', ')
  const without = schema.default === undefined ? '' : `left out: ${inWords(schema.default)}`
  return [schema.description, such && `such as ${such}`, without].filter(Boolean).join('; ')
}

/** What a new row of a list begins with. */
export function begun(schema: Schema): unknown {
  if (schema.default !== undefined) return structuredClone(schema.default)
  const kind = kindOf(schema)
  if (kind === 'always') return schema.const
  if (kind === 'yes') return false
  return kind === 'table' ? {} : kind === 'list' ? [] : ''
}

/** The same value with another one under a name; nothing given leaves the name out. */
export function withValue(whole: unknown, name: string, value: unknown): Record<string, unknown> {
  const next = { ...(isTable(whole) ? whole : {}) }
  if (value === undefined || value === '' || value === null) delete next[name]
  else next[name] = value
  return next
}

/** Whether a value is one of values by name. */
export const isTable = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
