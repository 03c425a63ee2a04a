import { useState } from 'react'
import * as z from 'zod/mini'
import { integer, number, text } from '../../core/model/schema-fields'
import { EBU_R128, TARGET_DBTP, TARGET_LUFS, typedTarget, type Target } from '../../core/measure/target'
import { MOST_TAIL_SECONDS } from '../../core/render'
import { soundFormats } from '../../formats/sound-write'
import { PLAIN_PATTERN } from '../../store/actions/export-actions'

const KEY = 'oaken-thread/export'

const schema = z.object({
  format: z.catch(z.enum(soundFormats), 'wav24'),
  /** null is that of the session. */
  sampleRate: z.catch(z.nullable(integer(8000, 384_000)), null),
  pattern: z.catch(text(200), PLAIN_PATTERN),
  tail: z.catch(z.union([z.enum(['none', 'audible']), number(0, MOST_TAIL_SECONDS)]), 'audible'),
  goal: z.catch(z.enum(['none', 'ebu', 'typed']), 'none'),
  lufs: z.catch(number(TARGET_LUFS.min, TARGET_LUFS.max), -16),
  dbtp: z.catch(number(TARGET_DBTP.min, TARGET_DBTP.max), -1),
})

/** How files were exported last. */
export type ExportSettings = z.infer<typeof schema>

function read(): ExportSettings {
  try {
    return schema.parse(JSON.parse(localStorage.getItem(KEY) ?? '{}'))
  } catch {
    return schema.parse({})
  }
}

/** The settings of the export page, as they were left last time, and what changes and keeps them. */
export function useExportSettings(): [ExportSettings, (change: Partial<ExportSettings>) => void] {
  const [settings, setSettings] = useState(read)
  return [
    settings,
    (change) => {
      const next = { ...settings, ...change }
      setSettings(next)
      try {
        localStorage.setItem(KEY, JSON.stringify(next))
      } catch {
        // Without storage they hold as long as the page is shown.
      }
    },
  ]
}

/** What the settings ask of a file; null for nothing. */
export const targetOf = ({ goal, lufs, dbtp }: ExportSettings): Target | null =>
  goal === 'none' ? null : goal === 'ebu' ? EBU_R128 : typedTarget(lufs, dbtp)

/** What files were asked to keep last; null for nothing. */
export const keptTarget = (): Target | null => targetOf(read())
