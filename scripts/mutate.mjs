// Changes a line of the core, the engine or the store in a small way and runs the tests: a change that no test notices is a gap.
//   npm run mutate                  60 changes, with a seed that is printed
//   npm run mutate 10 1234          10 changes, with that seed
//   npm run mutate src/core/units   60 changes of files whose paths begin so
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import ts from 'typescript'
import { bin, ensureInstalled, inRoot, root } from './lib.mjs'

ensureInstalled()

const asked = process.argv.slice(2)
const [count = 60, seed = Date.now() % 1e6] = asked.filter((word) => /^\d+$/.test(word)).map(Number)
const rooms = asked.filter((word) => !/^\d+$/.test(word))
const inRooms = rooms.length ? rooms : ['src/core', 'src/engine', 'src/store']
/** How long the tests of one change may take, in milliseconds; one that hangs is noticed, too. */
const MOST_MS = 240_000

const dirty = spawnSync('git', ['status', '--porcelain', ...inRooms], { cwd: root, encoding: 'utf8' }).stdout
if (dirty.trim()) {
  console.error('Commit your changes first: files are changed in place, and put back.')
  process.exit(2)
}

let state = seed
const random = () => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state / 2 ** 32
}

const files = inRooms
  .flatMap((room) => fs.readdirSync(inRoot(room), { recursive: true }).map((file) => path.join(room, file)))
  .filter((file) => file.endsWith('.ts') && !/\.(test|test-util|d|worker|worklet)\.ts$/.test(file))
  // What is compiled to WebAssembly is checked by its other form.
  .filter((file) => !file.includes('/assembly/') && !file.endsWith('/index.ts'))

const OPERATORS = {
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '&&': '||',
  '||': '&&',
  '??': '&&',
}

/** The small changes that a file can have: where, and what stands there instead. */
function changesOf(text) {
  const source = ts.createSourceFile('file.ts', text, ts.ScriptTarget.Latest, true)
  const found = []
  const add = (node, to) => found.push({ from: node.getStart(source), end: node.getEnd(), to })
  const visit = (node) => {
    // Types, words and what is only imported are no code.
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node)) return
    if (ts.isBinaryExpression(node)) {
      const to = OPERATORS[node.operatorToken.getText(source)]
      const words = [node.left, node.right].some((side) => ts.isStringLiteralLike(side))
      if (to && !words) add(node.operatorToken, to)
    }
    if (ts.isNumericLiteral(node) && !ts.isPropertyAssignment(node.parent))
      add(node, `(${node.getText(source)} + 1)`)
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      add(node, node.operand.getText(source))
    if (ts.isPropertyAccessExpression(node) && /^Math\.(max|min)$/.test(node.getText(source)))
      add(node, node.name.text === 'max' ? 'Math.min' : 'Math.max')
    ts.forEachChild(node, visit)
  }
  visit(source)
  return found
}

const jest = (...args) =>
  spawnSync(bin('jest'), ['--bail', '--silent', '--testTimeout', '60000', ...args], {
    cwd: root,
    encoding: 'utf8',
    timeout: MOST_MS,
    killSignal: 'SIGKILL',
  }).status === 0

let changed = null
const putBack = () => {
  if (changed) fs.writeFileSync(changed.file, changed.text)
  changed = null
}
process.on('SIGINT', () => {
  putBack()
  process.exit(130)
})

console.log(`${count} changes, seed ${seed}`)
const survived = []
for (let n = 1; n <= count;) {
  const file = files[Math.floor(random() * files.length)]
  const text = fs.readFileSync(inRoot(file), 'utf8')
  const changes = changesOf(text)
  if (changes.length === 0) continue
  const { from, end, to } = changes[Math.floor(random() * changes.length)]
  const line = text.slice(0, from).split('\n').length
  const start = text.lastIndexOf('\n', from) + 1
  const was = text.slice(start, text.indexOf('\n', from)).trim()
  const what = `${file}:${line}  ${text.slice(from, end)} → ${to}   in   ${was.slice(0, 90)}`
  changed = { file: inRoot(file), text }
  fs.writeFileSync(inRoot(file), text.slice(0, from) + to + text.slice(end))
  try {
    // The tests beside it first: they are few.
    const folder = path.dirname(file)
    const noticed =
      !jest('--passWithNoTests', `^${inRoot(folder)}/[^/]*\\.test\\.tsx?$`) ||
      !jest('--passWithNoTests', '--findRelatedTests', inRoot(file))
    console.log(`${String(n).padStart(3)}  ${noticed ? 'noticed ' : 'SURVIVED'}  ${what}`)
    if (!noticed) survived.push(what)
  } finally {
    putBack()
  }
  n++
}
console.log(`\n${count - survived.length} noticed, ${survived.length} survived`)
for (const what of survived) console.log(`  ${what}`)
process.exit(survived.length ? 1 : 0)
