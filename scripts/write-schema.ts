import fs from 'node:fs'
import { sessionJsonSchema } from './json-schema'
import { insertsPage } from './insert-page'
import { manualPage } from './manual-page'

const file = new URL('../docs/session.schema.json', import.meta.url)
fs.writeFileSync(file, `${JSON.stringify(sessionJsonSchema(), null, 2)}\n`)
fs.writeFileSync(new URL('../docs/inserts.md', import.meta.url), await insertsPage())
fs.writeFileSync(new URL('../docs/manual.md', import.meta.url), manualPage())
