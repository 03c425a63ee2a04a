import { BookmarkPlus, ChevronRight } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useRef, useState, type ReactNode } from 'react'
import { LIMITS, type Insert } from '../../../../core/model/session'
import { fileNamePart } from '../../../../formats/file-name'
import { OWN_PRESETS, presetsFor, presetWords, type Preset } from '../../../../core/model/inserts/presets'
import {
  deletePreset,
  importPreset,
  presetBlob,
  proposedName,
  renamePreset,
  savedPresets,
  savePreset,
} from '../../../../store/actions/presets'
import { downloadFile } from '../../../parts/copies/download'
import { useAppDispatch, useObservable } from '../../../parts/hooks'
import { MENU, MENU_ITEM } from '../../../parts/menu-look'
import { TextQuestion } from '../../../parts/fields/text-question'
import { unlessInDialog } from '../../../parts/focus-return'

const LABEL = 'px-3 py-1 text-xs text-soft'

/** What is asked for a name: what is saved, or a preset that gets another one. */
type Asked = { preset: Preset; renames: boolean }

/**
 * Presets of one kind of insert, or with null of chains, as a part of a menu: to be taken, and those of one's own to be saved, renamed,
 * deleted, taken away as files and read from them.
 */
export function usePresets({
  kind,
  inserts,
  onTake,
}: {
  kind: Insert['kind'] | null
  /** What would be saved. */
  inserts: readonly Insert[]
  onTake(preset: Preset): void
}): { items: ReactNode; rest: ReactNode } {
  const dispatch = useAppDispatch()
  const saved = presetsFor(useObservable(savedPresets), kind)
  const [asked, setAsked] = useState<Asked | null>(null)
  const file = useRef<HTMLInputElement>(null)
  const own = presetsFor(OWN_PRESETS, kind)
  const what = kind === null ? 'chain' : 'preset'
  const take = (preset: Preset) => (
    <DropdownMenu.Item key={preset.name} className={MENU_ITEM} onSelect={() => onTake(preset)}>
      <span className="max-w-72">
        {preset.name}
        {kind === null && <span className="block text-xs text-soft">{presetWords(preset)}</span>}
      </span>
    </DropdownMenu.Item>
  )
  const items = (
    <>
      {saved.length > 0 && <DropdownMenu.Label className={LABEL}>Yours</DropdownMenu.Label>}
      {saved.map(take)}
      <DropdownMenu.Label className={LABEL}>Ready to use</DropdownMenu.Label>
      {own.map(take)}
      <DropdownMenu.Separator className="my-1 h-px bg-seam" />
      <DropdownMenu.Item
        className={MENU_ITEM}
        disabled={inserts.length === 0 || (kind === null && inserts.length < 2)}
        onSelect={() =>
          setAsked({
            preset: {
              name: proposedName(inserts),
              inserts: inserts.map(({ kind: k, values, bypassed }) => ({
                kind: k,
                values,
                ...(bypassed && kind === null ? { bypassed } : {}),
              })),
            },
            renames: false,
          })
        }
      >
        Save this {what}…
      </DropdownMenu.Item>
      <DropdownMenu.Item className={MENU_ITEM} onSelect={() => file.current?.click()}>
        Read one from a file…
      </DropdownMenu.Item>
      {saved.map((preset) => (
        <DropdownMenu.Sub key={preset.name}>
          <DropdownMenu.SubTrigger className={MENU_ITEM}>
            <span className="max-w-56 truncate">“{preset.name}”</span>
            <ChevronRight size={14} aria-hidden />
          </DropdownMenu.SubTrigger>
          <DropdownMenu.Portal>
            <DropdownMenu.SubContent className={MENU} sideOffset={4} collisionPadding={8}>
              <DropdownMenu.Item className={MENU_ITEM} onSelect={() => setAsked({ preset, renames: true })}>
                Rename…
              </DropdownMenu.Item>
              <DropdownMenu.Item
                className={MENU_ITEM}
                onSelect={() =>
                  downloadFile(presetBlob(preset), `${fileNamePart(preset.name, 'preset')}.json`)
                }
              >
                Take away as a file
              </DropdownMenu.Item>
              <DropdownMenu.Item className={MENU_ITEM} onSelect={() => void dispatch(deletePreset(preset))}>
                Delete
              </DropdownMenu.Item>
            </DropdownMenu.SubContent>
          </DropdownMenu.Portal>
        </DropdownMenu.Sub>
      ))}
    </>
  )
  const rest = (
    <>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        aria-label={`A file of a ${what}`}
        className="hidden"
        onChange={(event) => {
          const [chosen] = event.target.files ?? []
          event.target.value = ''
          if (!chosen) return
          void dispatch(importPreset(chosen)).then((preset) => {
            if (preset && presetsFor([preset], kind).length) onTake(preset)
          })
        }}
      />
      {asked && (
        <TextQuestion
          title={asked.renames ? `Rename “${asked.preset.name}”` : `Save this ${what}`}
          about="It is kept in this browser, for all sessions. One of the same name is replaced."
          label="Name"
          initial={asked.preset.name}
          verb={asked.renames ? 'Rename' : 'Save'}
          check={(text) =>
            text.trim().length === 0
              ? 'Type a name that says what it does.'
              : text.trim().length <= LIMITS.nameLength || `At most ${LIMITS.nameLength} characters.`
          }
          onText={(text) => {
            if (asked.renames) void dispatch(renamePreset(asked.preset, text.trim()))
            else void dispatch(savePreset({ ...asked.preset, name: text.trim() }))
          }}
          onClose={() => setAsked(null)}
        />
      )}
    </>
  )
  return { items, rest }
}

/** The presets of an insert behind a button. */
export function PresetMenu({
  kind,
  insert,
  onTake,
}: {
  kind: Insert['kind']
  insert: Insert
  onTake(preset: Preset): void
}) {
  const { items, rest } = usePresets({ kind, inserts: [insert], onTake })
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label="Presets"
          title="Presets: values under a name, to be taken or saved"
          className="flex h-7 w-full items-center justify-center gap-1.5 rounded-lg border border-seam bg-linen px-2 text-xs hover:bg-white"
        >
          <BookmarkPlus size={14} aria-hidden /> Presets
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            onCloseAutoFocus={unlessInDialog}
            side="right"
            align="start"
            sideOffset={4}
            collisionPadding={8}
            className={MENU}
          >
            {items}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {rest}
    </>
  )
}
