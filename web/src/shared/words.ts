/** Whether some words stand in the parts of a row, whatever their case; no words fit everything. */
export function has(words: unknown, ...parts: (string | number | null | undefined)[]): boolean {
  const wanted = String(words ?? '')
    .trim()
    .toLowerCase()
  const text = parts.join(' ').toLowerCase()
  return wanted.split(/\s+/).every((one) => text.includes(one))
}
