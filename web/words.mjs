// Writes the words that the server describes beside its API, so that pages know none of them by themselves.
import { readFileSync, writeFileSync } from 'node:fs'

const description = JSON.parse(readFileSync('../docs/openapi.json', 'utf8'))
const LIST = 'readonly string[]'
const RECORD = 'Readonly<Record<string, Readonly<Record<string, string>>>>'
const lines = Object.entries(description['x-words']).map(
  ([name, value]) =>
    `export const ${name.toUpperCase()}: ${Array.isArray(value) ? LIST : RECORD} = ${JSON.stringify(value, null, 2)}\n`,
)
writeFileSync('src/api/words.ts', ['// Written by words.mjs from the description of the API.', ...lines].join('\n'))
