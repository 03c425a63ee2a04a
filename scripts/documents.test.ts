import fs from 'node:fs'
import path from 'node:path'
import { insertsPage } from './insert-page'
import { sessionJsonSchema } from './json-schema'
import { manualPage } from './manual-page'

const docs = (name: string) => fs.readFileSync(path.join(__dirname, '../docs', name), 'utf8')

test('the JSON Schema in docs is that of the program (npm run schema writes it)', () => {
  expect(JSON.parse(docs('session.schema.json'))).toEqual(JSON.parse(JSON.stringify(sessionJsonSchema())))
})

test('the page of inserts in docs is that of the program (npm run schema writes it)', async () => {
  expect(docs('inserts.md')).toBe(await insertsPage())
})

test('the steps of the manual in docs are those of the help (npm run schema writes them)', () => {
  expect(docs('manual.md')).toBe(manualPage())
})
