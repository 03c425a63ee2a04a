import { z } from 'zod'
import { sessionSchema } from '../src/core/model/session-schema'

/** The JSON Schema (draft 2020-12) of `session.json`, made from the schema that the program checks with. */
export const sessionJsonSchema = (): unknown => ({
  title: 'Oaken Thread session',
  ...z.toJSONSchema(sessionSchema),
})
