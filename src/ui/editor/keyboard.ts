import { takeHand } from '../../store/actions/take-hand'
import { memo, useEffect, useMemo, useRef } from 'react'
import { flushSync } from 'react-dom'
import { useHotkeys } from 'react-hotkeys-hook'
import { READ_ONLY } from '../../store/edits'
import { benchShown, groupsLeft, type Hand } from '../../store/view'
import { sayWhyNot } from '../../store/why-not'
import {
  COMMANDS,
  isSingleCharacter,
  keysOf,
  type CommandId,
  type CommandInfo,
} from '../parts/commands/commands'
import { useAppDispatch, useAppFields, useAppSelector, useAppStore } from '../parts/hooks'
import { followsLetter, writesLatin } from '../parts/commands/key-words'
import { setCurrentElement } from '../parts/focus-return'
import { currentField } from './commands'
import { currentElement } from './parts/current-element'
import type { CommandRuns } from './parts/command-context'

const HANDLES = ['slider', 'radio'] as const

/** Keys of which the command itself says whether the browser's own meaning stays. */
const DECIDE: ReadonlySet<string> = new Set<CommandId>([
  'play',
  'left',
  'right',
  'type-value',
  'copy',
  'cut',
  'paste',
  'step-back',
])

/** Commands whose keys work in fields, too; Space plays there while nothing has been typed. */
const EVERYWHERE: ReadonlySet<string> = new Set<CommandId>(['next-area', 'previous-area', 'commands', 'play'])

/**
 * The keys of the editor's commands, as the person chose them. They also work while a handle has the focus; handles
 * consume the keys they need. Renders nothing, and never re-renders during a drag.
 */
export const EditorKeys = memo(function EditorKeys({ runs }: { runs: CommandRuns }) {
  const { keymap, singleKeys } = useAppFields(({ preferences: { keymap, singleKeys } }) => ({
    keymap,
    singleKeys,
  }))
  const byKeys = useMemo(
    () =>
      new Map(
        COMMANDS.filter((c: CommandInfo) => !c.held).flatMap((c) =>
          keysOf(c, keymap, singleKeys).map((keys): [string, CommandId] => [keys, c.id]),
        ),
      ),
    [keymap, singleKeys],
  )
  useCombinations(
    [...byKeys.keys()],
    (event, combination) => {
      const id = byKeys.get(combination)
      if (!id) return
      if (!DECIDE.has(id)) event.preventDefault()
      runs[id](event)
    },
    HANDLES,
    [byKeys, runs],
  )
  const everywhere = useMemo(
    () => [...byKeys].flatMap(([keys, id]) => (EVERYWHERE.has(id) && !isSingleCharacter(keys) ? [keys] : [])),
    [byKeys],
  )
  useCombinations(
    everywhere,
    (event, combination) => {
      const target = event.target as Element
      const id = byKeys.get(combination)!
      if (!target.matches(id === 'play' ? '[data-value]:not([data-typed])' : 'input, select, textarea'))
        return
      event.preventDefault()
      runs[id](event)
    },
    true,
    [everywhere, byKeys, runs],
  )
  useTyping()
  useLentHand()
  useCurrentElement()
  return null
})

/** Listens to combinations: to some by the letter that is written, to the others by the place of the key. */
function useCombinations(
  combinations: readonly string[],
  run: (event: KeyboardEvent, combination: string) => void,
  enableOnFormTags: true | typeof HANDLES,
  dependencies: readonly unknown[],
): void {
  const letters = combinations.filter(followsLetter)
  const places = combinations.filter((c) => !followsLetter(c))
  // What has the focus has taken the key.
  const taken = (event: KeyboardEvent) => event.defaultPrevented && event.key !== 'Escape'
  const listener = (event: KeyboardEvent, { hotkey }: { hotkey: string }) => run(event, hotkey)
  useHotkeys(
    places,
    listener,
    { enableOnFormTags, enabled: places.length > 0, ignoreEventWhen: taken },
    dependencies,
  )
  useHotkeys(
    letters,
    listener,
    { enableOnFormTags, enabled: letters.length > 0, ignoreEventWhen: taken, useKey: true },
    dependencies,
  )
  useHotkeys(
    letters,
    listener,
    {
      enableOnFormTags,
      enabled: letters.length > 0,
      ignoreEventWhen: (event) => taken(event) || writesLatin(event),
    },
    dependencies,
  )
}

/** Fields and dialogs that are left give the focus to what is current. */
function useCurrentElement(): void {
  const store = useAppStore()
  useEffect(() => setCurrentElement(() => currentElement(store.getState())), [store])
}

/** What begins a typed value. */
const VALUE = /^[0-9+\-−=.,]$/

/** A digit, a sign or a point opens the field of what is current, and is the first that is typed there. */
function useTyping(): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  useEffect(() => {
    const typed = (event: KeyboardEvent) => {
      const target = event.target as Element
      if (event.ctrlKey || event.metaKey || event.altKey || !VALUE.test(event.key)) return
      if (event.defaultPrevented || target.closest('input, select, textarea, [role="dialog"]')) return
      if (store.getState().session.readOnly !== null) return sayWhyNot(READ_ONLY)
      if (!store.getState().preferences.bench) flushSync(() => dispatch(benchShown(true)))
      const name = currentField(store.getState())
      const field = document.querySelector<HTMLInputElement>(`[data-field="${name}"]:not(:disabled)`)
      // The browser puts the character into what has the focus then.
      if (field) return field.focus()
      event.preventDefault()
      sayWhyNot('Select a region, a track or a knot first; then its value can be typed.')
    }
    window.addEventListener('keydown', typed)
    return () => window.removeEventListener('keydown', typed)
  }, [dispatch, store])
}

/** The hands that keys lend, by the commands that have these keys. */
const lent: Readonly<Partial<Record<CommandId, Hand>>> = {
  'hand-range': 'range',
  'hand-draw': 'draw',
  'hand-plateau': 'plateau',
  'hand-weave': 'weave',
}

/** The command that a held key stands for, by the letter of the key event. */
function useHeldKeys(): (event: KeyboardEvent) => CommandId | undefined {
  const { keymap, singleKeys } = useAppFields(({ preferences: { keymap, singleKeys } }) => ({
    keymap,
    singleKeys,
  }))
  return useMemo(() => {
    const byKey = new Map(
      COMMANDS.filter((c: CommandInfo) => c.held).flatMap((c) =>
        keysOf(c, keymap, singleKeys).map((key): [string, CommandId] => [key, c.id]),
      ),
    )
    return (event) => byKey.get(event.code.replace(/^Key/, '').toLowerCase())
  }, [keymap, singleKeys])
}

/** A hand is active while its key is held, and so are left groups; tapping the key keeps it or puts it back. */
function useLentHand(): void {
  const dispatch = useAppDispatch()
  const store = useAppStore()
  const hand = useAppSelector((s) => s.selection.hand)
  const commandOf = useHeldKeys()
  const held = useRef<{ code: string; id: CommandId; since: number; hand: Hand; left: boolean } | null>(null)
  const latest = useRef(hand)
  useEffect(() => void (latest.current = hand))
  useEffect(() => {
    const typing = (e: KeyboardEvent) =>
      (e.target as Element).matches('input, select, textarea') ||
      e.ctrlKey ||
      e.metaKey ||
      e.altKey ||
      e.shiftKey
    const down = (e: KeyboardEvent) => {
      if (e.repeat || held.current || typing(e) || (e.target as Element).closest('[role="dialog"]')) return
      const id = commandOf(e)
      if (!id) return
      const left = store.getState().selection.leavesGroups
      held.current = { code: e.code, id, since: performance.now(), hand: latest.current, left }
      const next = lent[id]
      dispatch(next ? takeHand(next) : groupsLeft(true))
    }
    const up = (e: KeyboardEvent) => {
      if (!held.current || held.current.code !== e.code) return
      const { id, since, hand: before, left } = held.current
      held.current = null
      const tapped = performance.now() - since < 300
      const own = lent[id]
      if (own) dispatch(takeHand(tapped ? (before === own ? 'point' : own) : before))
      else dispatch(groupsLeft(tapped ? !left : left))
    }
    /** When the window loses focus no key-up arrives: put the hand back. */
    const away = () => {
      if (held.current && lent[held.current.id]) dispatch(takeHand(held.current.hand))
      else if (held.current) dispatch(groupsLeft(held.current.left))
      held.current = null
    }
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', away)
    return () => {
      window.removeEventListener('blur', away)
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
    }
  }, [dispatch, store, commandOf])
}
