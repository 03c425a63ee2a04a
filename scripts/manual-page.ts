import fs from 'node:fs'
import { fileURLToPath } from 'node:url'
import { HELP_STEPS } from '../src/ui/help/help-steps'
import { COMMANDS, keysOf, type CommandInfo } from '../src/ui/parts/commands/commands'
import { keyWords } from '../src/ui/parts/commands/key-words'

const FILE = fileURLToPath(new URL('../docs/manual.md', import.meta.url))
const HEADING = '## The job, step by step'

/** A text of the help with the usual keys of the commands that it names. */
const withKeys = (text: string): string =>
  text.replace(/\[([a-z-]+)\]/g, (_, id: string) => {
    const command: CommandInfo = COMMANDS.find((c) => c.id === id)!
    const [first] = keysOf(command, {}, true)
    return first === undefined ? `the key of “${command.title}”` : `\`${keyWords(first)}\``
  })

/** The manual as it is, with the steps of the application's help. */
export function manualPage(): string {
  const text = fs.readFileSync(FILE, 'utf8')
  const from = text.indexOf(HEADING)
  const to = text.indexOf('\n## ', from)
  const steps = HELP_STEPS.map((step, n) => `${n + 1}. **${step.title}.** ${withKeys(step.text)}`)
  const pictures = text.slice(text.indexOf('\n![', from), to)
  const usual = `${HEADING}\n\nThe same steps are in the application, under Help.\n\n${steps.join('\n')}\n`
  return text.slice(0, from) + usual + pictures + text.slice(to)
}
