// What is done with the files of the web application once they are built: compressed copies for the server, and how much a page loads.
import fs from 'node:fs'
import path from 'node:path'
import zlib from 'node:zlib'

const COMPRESSED = /\.(js|css|wasm|json|txt|svg)$/

/** Writes a Brotli and a gzip copy beside each file of the application; the sample session and fonts are compressed as they are. */
export function compressWeb(web) {
  for (const entry of fs.readdirSync(web, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !COMPRESSED.test(entry.name)) continue
    const file = path.join(entry.parentPath, entry.name)
    const bytes = fs.readFileSync(file)
    fs.writeFileSync(`${file}.gz`, zlib.gzipSync(bytes, { level: 9 }))
    const params = { [zlib.constants.BROTLI_PARAM_QUALITY]: 10 }
    fs.writeFileSync(`${file}.br`, zlib.brotliCompressSync(bytes, { params }))
  }
}

/** The pages whose first load is bounded, and by how many bytes, compressed by gzip. */
const PAGES = {
  'the list of sessions': { source: 'src/ui/sessions/sessions-page.tsx', most: 250_000 },
  'the editor': { source: 'src/ui/editor/editor-page.tsx', most: 450_000 },
}

/** What the pages load of scripts and styles before they are shown, in bytes compressed by gzip, and what they may. */
export function firstLoads(web) {
  const manifest = JSON.parse(fs.readFileSync(path.join(web, 'parts-of-pages.json'), 'utf8'))
  const filesOf = (source, seen = new Set()) => {
    const part = manifest[source]
    if (!part) throw new Error(`The build has no ${source}.`)
    if (seen.has(part.file)) return seen
    for (const file of [part.file, ...(part.css ?? [])]) seen.add(file)
    for (const other of part.imports ?? []) filesOf(other, seen)
    return seen
  }
  return Object.entries(PAGES).map(([page, { source, most }]) => {
    const files = [...filesOf(source, filesOf('index.html'))]
    return {
      page,
      most,
      bytes: files.reduce((sum, f) => sum + fs.statSync(path.join(web, `${f}.gz`)).size, 0),
    }
  })
}
