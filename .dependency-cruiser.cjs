/** Imports run one way only: core ← formats ← engine ← store ← ui; inside core, downwards in the order of its folders. */
const fs = require('node:fs')
const path = require('node:path')

// A room of the core may use the rooms listed before it; `curve` and `dsp` know nothing of edits.
const order = ['units', 'model', 'curve', 'edit', 'dsp', 'measure', 'render', 'suggest']

const rooms = fs
  .readdirSync(path.join(__dirname, 'src/core'), { withFileTypes: true })
  .filter((entry) => entry.isDirectory())
  .map((entry) => entry.name)
const unknown = [...rooms.filter((r) => !order.includes(r)), ...order.filter((r) => !rooms.includes(r))]
if (unknown.length)
  throw new Error(
    `The rooms of src/core and their order in .dependency-cruiser.cjs differ: ${unknown.join(', ')}`,
  )

const upwards = order.map((room, at) => ({
  name: `core-${room}-upwards`,
  comment: `core/${room} may import only rooms below it`,
  severity: 'error',
  from: { path: `^src/core/${room}/` },
  to: { path: `^src/core/(${order.slice(at + 1).join('|') || 'none'})/` },
}))

// Rooms whose files others reach through `index.ts` alone; what a worker is made of is named by its file.
const doors = [
  'src/core/edit',
  'src/core/render',
  ...['background', 'export', 'import', 'playback', 'storage', 'worker'].map((room) => `src/engine/${room}`),
].map((room) => ({
  name: `door-of-${room.replace('src/', '').replace('/', '-')}`,
  comment: `what others use of ${room} goes through its index.ts`,
  severity: 'error',
  from: { pathNot: `^${room}/` },
  // What is loaded when it is needed must not come with all of its room.
  to: {
    dynamic: false,
    path: `^${room}/`,
    pathNot: `^${room}/index\\.ts$|\\.(worker|worklet)\\.ts|\\.test-util\\.ts$`,
  },
}))

const deny = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: from, pathNot: '\\.test\\.tsx?$' },
  to: { path: to },
})

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    ...upwards,
    ...doors,
    deny('core-is-closed', '^src/core/', '^(src/(formats|engine|store|ui)|cli|server|demo|bench|e2e)/'),
    {
      name: 'core-has-only-zod',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test(-util)?\\.ts$' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/zod/' },
    },
    deny('formats-below', '^src/formats/', '^(src/(engine|store|ui)|cli|server|demo|bench)/'),
    deny('engine-below', '^src/engine/', '^(src/(store|ui)|cli|server|demo|bench)/'),
    deny('store-below', '^src/store/', '^(src/ui|cli|server|demo|bench)/'),
    deny('ui-below', '^src/ui/', '^(cli|server|demo|bench)/'),
    deny('cli-and-bench', '^(cli|bench)/', '^(src/(engine|store|ui)|server)/'),
    {
      name: 'editor-parts-apart',
      comment: 'what two parts of the editor need lies in hands, drawing or parts',
      severity: 'error',
      from: { path: '^src/ui/editor/([^/]+)/' },
      to: { path: '^src/ui/editor/[^/]+/', pathNot: '^src/ui/editor/($1|hands|drawing|parts)/' },
    },
    {
      name: 'editor-hands-below-parts',
      severity: 'error',
      from: { path: '^src/ui/editor/(hands|drawing)/' },
      to: { path: '^src/ui/editor/parts/|node_modules/(react|react-dom)/|\\.tsx$' },
    },
    deny('editor-drawing-below-hands', '^src/ui/editor/drawing/', '^src/ui/editor/hands/'),
    deny('no-tests-in-code', '^(src|cli|server|demo|bench)/', '\\.test\\.tsx?$'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
  },
}
