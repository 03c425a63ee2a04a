import { commandScore } from './command-score'
import { COMMANDS, commandWith, isSingleCharacter, keysOf, type CommandInfo } from './commands'
import fs from 'node:fs'
import path from 'node:path'
import { HELP_STEPS } from '../../help/help-steps'
import { combinationOf, keyWords } from './key-words'
import { keyWordsOf } from './use-key-words'

const all: readonly CommandInfo[] = COMMANDS

test('no two commands have the same key, and no name stands twice', () => {
  const keys = all.flatMap((c) => c.keys ?? [])
  expect(new Set(keys).size).toBe(keys.length)
  expect(new Set(all.map((c) => c.id)).size).toBe(all.length)
  expect(new Set(all.map((c) => c.title)).size).toBe(all.length)
  for (const c of all.filter((c) => c.held)) expect(c.keys!.every((k) => /^[a-z]$/.test(k))).toBe(true)
})

test('keys can be others, none, or without letters and signs by themselves', () => {
  const loop = all.find((c) => c.id === 'loop')!
  expect(keysOf(loop, {}, true)).toEqual(['l'])
  expect(keysOf(loop, {}, false)).toEqual([])
  expect(keysOf(loop, { loop: ['mod+l', 'x'] }, false)).toEqual(['mod+l'])
  expect(keysOf(loop, { loop: [] }, true)).toEqual([])
  expect(commandWith('q', {}, 'loop')?.id).toBe('duplicate')
  expect(commandWith('q', { duplicate: [] }, 'loop')).toBeUndefined()
  expect(['a', 'shift+a', 'bracketleft', 'mod+a', 'f2', 'up', 'space'].map(isSingleCharacter)).toEqual([
    true,
    true,
    true,
    false,
    false,
    false,
    false,
  ])
})

test('keys stand as they are on the machine', () => {
  expect(
    ['mod+shift+z', 'shift+alt+up', 'bracketleft', 'space', 'f2'].map((k) => keyWords(k, false)),
  ).toEqual(['Ctrl Shift Z', 'Shift Alt ↑', '[', 'Space', 'F2'])
  expect(['mod+shift+z', 'shift+alt+up', 'backspace'].map((k) => keyWords(k, true))).toEqual([
    '⇧⌘Z',
    '⌥⇧↑',
    '⌫',
  ])
})

test('a pressed key is a combination; digits and signs are not, they begin a value', () => {
  const event = (code: string, more = {}) => ({
    code,
    key: '',
    ctrlKey: false,
    metaKey: false,
    altKey: false,
    shiftKey: false,
    ...more,
  })
  expect(combinationOf(event('KeyL', { ctrlKey: true, shiftKey: true }), false)).toBe('mod+shift+l')
  expect(combinationOf(event('KeyL', { metaKey: true }), true)).toBe('mod+l')
  expect(combinationOf(event('ArrowUp', { altKey: true }), false)).toBe('alt+up')
  // With Ctrl a letter is what is written on the key, elsewhere a key is its place; a keyboard without such letters has those of the places.
  expect(combinationOf(event('KeyY', { key: 'z', ctrlKey: true }), false)).toBe('mod+z')
  expect(combinationOf(event('KeyZ', { key: 'я', ctrlKey: true }), false)).toBe('mod+z')
  expect(combinationOf(event('KeyY', { key: 'z' }), false)).toBe('y')
  expect(combinationOf(event('BracketLeft'), false)).toBe('bracketleft')
  expect(['Digit3', 'Minus', 'ShiftLeft'].map((code) => combinationOf(event(code), false))).toEqual([
    null,
    null,
    null,
  ])
})

test.each([
  ['duck', 'give-way'],
  ['normalise', 'match'],
  ['razor', 'split'],
  ['bounce', 'render'],
  ['mixdown', 'export'],
  ['dark', 'ground'],
  ['new track', 'add-mono'],
  ['xfade', 'crossfade'],
  ['seams', 'seams'],
  ['louder', 'up'],
  ['quieter', 'down'],
  ['slip', 'slip-left'],
])('“%s” finds %s first', (search, id) => {
  const scores = all
    .filter((c) => !c.onlyByKey)
    .map((c) => ({ id: c.id, score: commandScore(c.title, `${c.words ?? ''} ${c.group}`, search) }))
    .sort((a, b) => b.score - a.score)
  expect(scores[0]).toMatchObject({ id })
  expect(commandScore('Loop the range', 'cycle', 'xyz')).toBe(0)
})

test('texts name the keys that were chosen, and the command where it has none', () => {
  const words = keyWordsOf({ keymap: { 'hand-range': ['shift+u'], crossfade: [] }, singleKeys: true })
  expect(words.in('hold [hand-range] and sweep, or press [crossfade]')).toBe(
    'hold Shift U and sweep, or press the key of “Crossfade the joins”',
  )
})

test('the keys that help, hints and messages name are those of commands', () => {
  const source = (file: string) => fs.readFileSync(path.join(__dirname, '../../editor', file), 'utf8')
  const runs = fs.readdirSync(path.join(__dirname, '../../editor/commands')).map((file) => `commands/${file}`)
  const asked = [...runs, 'hint-bar.tsx', 'editor-page.tsx', 'bench/weave-fields.tsx'].flatMap((file) =>
    [...source(file).matchAll(/\.in\(\s*'([^']*)'/g)].map(([, text]) => text!),
  )
  const texts = [...asked, ...HELP_STEPS.map(({ text }) => text)]
  const named = texts.flatMap((text) => [...text.matchAll(/\[([^\]]*)\]/g)].map(([, id]) => id!))
  expect(asked.length).toBeGreaterThan(5)
  expect(COMMANDS.map((c) => c.id as string)).toEqual(expect.arrayContaining(named))
})
