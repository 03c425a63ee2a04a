import fs from 'node:fs'
import { sessionJsonSchema } from '../src/core/model/json-schema'

const file = new URL('../docs/session.schema.json', import.meta.url)
fs.writeFileSync(file, `${JSON.stringify(sessionJsonSchema(), null, 2)}\n`)
