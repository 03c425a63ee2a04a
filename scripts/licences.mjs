import fs from 'node:fs'
import path from 'node:path'

/** What a packet's licence may be called. */
const LICENCE_NAME = /^(licen[cs]e|copying|notice)(\.|-|$)/i

/** The folder of the packet that a module is of; null for our own. */
function packetOf(id) {
  const at = id.lastIndexOf('/node_modules/')
  if (at < 0) return null
  const [scope, name] = id.slice(at + '/node_modules/'.length).split('/')
  return path.join(id.slice(0, at), 'node_modules', scope.startsWith('@') ? `${scope}/${name}` : scope)
}

/** What is told of a packet: its name, version and licence, with the texts that it comes with. */
function entryOf(folder) {
  const { name, version, license } = JSON.parse(fs.readFileSync(path.join(folder, 'package.json'), 'utf8'))
  const texts = fs
    .readdirSync(folder)
    .filter((file) => LICENCE_NAME.test(file) && fs.statSync(path.join(folder, file)).isFile())
    .sort()
    .map((file) => fs.readFileSync(path.join(folder, file), 'utf8').trim())
  return { title: `${name} ${version} (${license ?? 'licence in its text'})`, texts }
}

/**
 * Plugins for the page and for its workers that write the licences of all that is shipped into `licences.txt`. `own` is the text of
 * our own licence; `always` names packets of which something is in the build though no module of theirs is.
 */
export function licences(own, always = []) {
  const folders = new Set(always.map((name) => path.resolve('node_modules', name)))
  const collect = (ids) => {
    for (const id of ids) {
      const folder = packetOf(id.replace(/^\0+/, '').replace(/\?.*$/, ''))
      if (folder && fs.existsSync(path.join(folder, 'package.json'))) folders.add(folder)
    }
  }
  return {
    inWorkers: {
      name: 'licences-of-workers',
      generateBundle() {
        collect(this.getModuleIds())
      },
    },
    inPage: {
      name: 'licences',
      generateBundle() {
        collect(this.getModuleIds())
        const entries = [...folders].map(entryOf).sort((a, b) => (a.title < b.title ? -1 : 1))
        const without = entries.filter(({ texts }) => texts.length === 0).map(({ title }) => title)
        if (without.length) this.warn(`no text of a licence comes with ${without.join(', ')}`)
        const line = '\n\n' + '-'.repeat(78) + '\n\n'
        const source = [
          `Oaken Thread\n\n${own.trim()}`,
          ...entries.map(({ title, texts }) => [title, ...texts].join('\n\n')),
        ].join(line)
        this.emitFile({ type: 'asset', fileName: 'licences.txt', source: `${source}\n` })
      },
    },
  }
}
