/** A value of a run in words; a file by its name, a list by what is in it. */
export function shown(value: unknown): string {
  if (Array.isArray(value) && value.every((one) => typeof one !== 'object'))
    return value.length ? value.map(shown).join(', ') : 'none'
  const text = typeof value === 'string' ? value : JSON.stringify(value)
  return text.startsWith('file:') ? text.split('/').slice(1).join('/') : text
}

/** Names and values of what a run was given or gave. */
export const pairs = (value: unknown): [string, string][] =>
  Object.entries((value ?? {}) as Record<string, unknown>).map(([name, one]) => [name, shown(one)])
