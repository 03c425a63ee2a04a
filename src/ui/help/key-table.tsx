import { useEffect, useRef, useState } from 'react'
import { shownText } from '../../core/model/check/shown'
import { keysFile, MOST_KEYS_TEXT, readKeysFile } from '../../formats/keys-file'
import { keymapSet, keysSet } from '../../store/view'
import { Button } from '../parts/button'
import {
  COMMAND_GROUPS,
  COMMANDS,
  commandWith,
  isSingleCharacter,
  keysOf,
  type CommandInfo,
} from '../parts/commands/commands'
import { downloadFile } from '../parts/copies/download'
import { useAppDispatch, useAppFields } from '../parts/hooks'
import { combinationOf, keyWords } from '../parts/commands/key-words'
import { Tick } from '../parts/panel'
import { toast } from '../parts/messages/toast'

/** All commands with their keys: each can be given another one, or none. */
export function KeyTable({
  search,
  holds,
}: {
  search: string
  holds(text: string, search: string): boolean
}) {
  const dispatch = useAppDispatch()
  const { keymap, singleKeys } = useAppFields(({ preferences: { keymap, singleKeys } }) => ({
    keymap,
    singleKeys,
  }))
  const [asking, setAsking] = useState<string | null>(null)
  const file = useRef<HTMLInputElement>(null)
  const take = async (chosen: File | undefined) => {
    if (!chosen) return
    const name = shownText(chosen.name)
    const text = chosen.size > MOST_KEYS_TEXT ? '' : await chosen.text().catch(() => '')
    const read = readKeysFile(text, new Set(COMMANDS.map((c) => c.id)))
    if (read) dispatch(keymapSet(read))
    toast({
      text: read
        ? `The keys of “${name}” are in use.`
        : `“${name}” holds no keys that were saved here. Nothing was changed.`,
    })
  }
  const matching = (c: CommandInfo) =>
    holds(
      `${c.title} ${c.words ?? ''} ${c.group} ${keysOf(c, keymap, singleKeys)
        .map((k) => keyWords(k))
        .join(' ')}`,
      search,
    )
  return (
    <div>
      <Tick checked={singleKeys} onChange={(on) => void dispatch(keymapSet({ keymap, singleKeys: on }))}>
        Letters and signs by themselves are keys (switch off for speech input)
      </Tick>
      <div className="mt-2 mb-3 flex flex-wrap gap-2">
        <Button
          onClick={() =>
            downloadFile(
              new Blob([keysFile({ singleKeys, keymap })], {
                type: 'application/json',
              }),
              'oaken-thread-keys.json',
            )
          }
        >
          Save keys…
        </Button>
        <Button onClick={() => file.current?.click()}>Load keys…</Button>
        <Button
          disabled={Object.keys(keymap).length === 0}
          onClick={() => void dispatch(keymapSet({ keymap: {}, singleKeys }))}
        >
          All as usual
        </Button>
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          aria-label="File with keys"
          className="hidden"
          onChange={(e) => {
            void take(e.target.files?.[0])
            e.target.value = ''
          }}
        />
      </div>
      {COMMAND_GROUPS.map((group) => {
        const list = COMMANDS.filter((c: CommandInfo) => c.group === group && matching(c))
        return (
          list.length > 0 && (
            <section key={group} className="mb-3">
              <h3 className="mt-2 mb-0.5 text-xs font-semibold text-soft">{group}</h3>
              <ul>
                {list.map((command) => (
                  <KeyRow
                    key={command.id}
                    command={command}
                    keys={keysOf(command, keymap, singleKeys)}
                    asking={asking === command.id}
                    onAsk={(on) => setAsking(on ? command.id : null)}
                  />
                ))}
              </ul>
            </section>
          )
        )
      })}
    </div>
  )
}

function KeyRow({
  command,
  keys,
  asking,
  onAsk,
}: {
  command: CommandInfo
  keys: readonly string[]
  asking: boolean
  onAsk(on: boolean): void
}) {
  const dispatch = useAppDispatch()
  const { keymap } = useAppFields(({ preferences: { keymap } }) => ({ keymap }))
  const own = keymap[command.id] !== undefined
  return (
    <li className="flex min-h-8 items-center gap-2 border-b border-fold text-sm">
      <span className="min-w-0 flex-1 py-1">{command.title}</span>
      {asking ? (
        <AskKey command={command} onDone={() => onAsk(false)} />
      ) : (
        <button
          type="button"
          aria-label={`Keys of “${command.title}”: ${keys.map((k) => keyWords(k)).join(', ') || 'none'}. Press to change`}
          title="Press to choose another key"
          onClick={() => onAsk(true)}
          className={`min-h-6 min-w-10 rounded-md border px-1.5 font-mono text-xs hover:bg-white ${own ? 'border-oak' : 'border-seam'}`}
        >
          {keys.map((k) => keyWords(k)).join(', ') || '—'}
        </button>
      )}
      {own && !asking && (
        <button
          type="button"
          onClick={() => void dispatch(keysSet({ id: command.id, keys: null }))}
          className="h-6 rounded-md px-1.5 text-xs text-soft hover:bg-fold"
        >
          as usual
        </button>
      )}
    </li>
  )
}

/** Waits for a key, which the command then has; one that another command has is refused in words. */
function AskKey({ command, onDone }: { command: CommandInfo; onDone(): void }) {
  const dispatch = useAppDispatch()
  const { keymap } = useAppFields(({ preferences: { keymap } }) => ({ keymap }))
  const [message, setMessage] = useState<string | null>(null)
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => box.current?.focus(), [])
  return (
    <div
      ref={box}
      role="group"
      tabIndex={0}
      aria-label={`New key of “${command.title}”`}
      className="flex items-center gap-2 rounded-md border border-oak bg-white px-2 py-0.5 text-xs"
      onBlur={(event) => !event.currentTarget.contains(event.relatedTarget) && onDone()}
      onKeyDown={(event) => {
        if (event.target !== event.currentTarget || event.key === 'Tab') return
        event.preventDefault()
        event.stopPropagation()
        if (event.key === 'Escape') return onDone()
        const combination = combinationOf(event.nativeEvent)
        if (combination === null) {
          if (/^[0-9+\-=.,]$/.test(event.key)) setMessage('Digits and signs begin a typed value.')
          return
        }
        if (command.held && !(isSingleCharacter(combination) && !combination.includes('+')))
          return setMessage('A key that is held must be a letter.')
        const other = commandWith(combination, keymap, command.id)
        if (other) return setMessage(`${keyWords(combination)} is “${other.title}”. Free it there first.`)
        dispatch(keysSet({ id: command.id, keys: [combination] }))
        onDone()
      }}
    >
      <span role="status">{message ?? 'Press a key…'}</span>
      <button
        type="button"
        onClick={() => {
          dispatch(keysSet({ id: command.id, keys: [] }))
          onDone()
        }}
        className="h-6 rounded-md px-1.5 text-soft hover:bg-fold"
      >
        none
      </button>
    </div>
  )
}
