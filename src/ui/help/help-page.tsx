import { ArrowLeft, Search } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { GroundSwitch } from '../parts/ground-switch'
import { modifierWords } from '../parts/commands/key-words'
import { useKeyWords } from '../parts/commands/use-key-words'
import { HELP_STEPS } from './help-steps'
import { KeyTable } from './key-table'

/** What the pointer does with a modifier; `{mod}` and the like stand for what is on this machine's keys. */
const pointer: [string, string][] = [
  ['Wheel', 'up and down the tracks; over the hem of a selected region its gain'],
  ['{shift} wheel', 'sideways'],
  ['{mod} wheel, pinch', 'zoom about the pointer'],
  ['{alt} wheel', 'the sound of the row drawn larger or smaller; with {shift} that of all rows'],
  ['{alt} while dragging', 'fine, and nothing catches'],
  ['{mod} while dragging a knot or a weave', 'catches on knots of other lanes, too'],
  ['{shift} click', 'add to the selection: regions, heads of tracks'],
  ['{shift} drag', 'a region: off the grid'],
  ['{mod} drag', 'a region: only its sound; a stretch: bend it'],
  ['{mod} pressed during a drag', 'a region: leave a copy behind'],
  ['{shift} drag on the ruler', 'set the range'],
  ['Drag over M or S', 'mute or solo several tracks at once'],
  ['{alt} click on S', 'solo only this track'],
  ['Drag the lower edge of a head', 'height of its row'],
  ['Drag the coloured edge of a head', 'order of the tracks'],
]

/** Whether all words of a search are in a text. */
const holds = (text: string, search: string) => {
  const lower = text.toLowerCase()
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word))
}

/** The job step by step, and all keys, which can be changed here. */
export function HelpPage() {
  const navigate = useNavigate()
  const [search, setSearch] = useState('')
  const keys = useKeyWords()
  const shownSteps = HELP_STEPS.map((step, i) => ({
    ...step,
    text: keys.in(step.text),
    number: i + 1,
  })).filter((s) => holds(`${s.title} ${s.text}`, search))
  return (
    <div className="min-h-full">
      <header className="flex h-13 items-center gap-3 border-b border-seam bg-cloth px-3">
        <button
          type="button"
          onClick={() => void (window.history.length > 1 ? navigate(-1) : navigate('/'))}
          className="inline-flex h-8 items-center gap-1.5 rounded-lg px-2 text-sm font-medium hover:bg-fold"
        >
          <ArrowLeft size={17} />
          Back
        </button>
        <h1 className="text-base font-bold">Help</h1>
        <span className="ml-auto" />
        <GroundSwitch />
        <label className="flex h-8 w-80 max-w-[50vw] items-center gap-2 rounded-lg border border-seam bg-linen px-2 focus-within:outline-2 focus-within:outline-oak">
          <Search size={15} className="shrink-0 text-soft" aria-hidden />
          <span className="sr-only">Search the help</span>
          <input
            type="search"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            placeholder="Search: fade, clip gain, duck, zoom…"
            className="min-w-0 flex-1 bg-transparent outline-none placeholder:text-soft"
          />
        </label>
      </header>
      <main className="mx-auto grid max-w-6xl gap-10 px-6 py-8 lg:grid-cols-[1fr_27rem]">
        <section>
          <h2 className="mb-4 text-lg font-bold">The job, step by step</h2>
          {shownSteps.length === 0 && (
            <p className="text-soft">No step is about that. The keys beside may be.</p>
          )}
          <ol className="space-y-4">
            {shownSteps.map((step) => (
              <li key={step.title} className="flex gap-4">
                <span
                  className="mt-0.5 flex h-7 w-7 shrink-0 items-center justify-center rounded-full bg-oak font-mono text-sm text-white"
                  aria-hidden
                >
                  {step.number}
                </span>
                <div>
                  <h3 className="font-bold">{step.title}</h3>
                  <p className="text-soft">{step.text}</p>
                </div>
              </li>
            ))}
          </ol>
        </section>
        <section>
          <h2 className="mb-3 text-lg font-bold">Keys</h2>
          <KeyTable search={search} holds={holds} />
          <h2 className="mt-8 mb-3 text-lg font-bold">Pointer</h2>
          <table className="w-full text-sm">
            <tbody>
              {pointer
                .map(([key, what]): [string, string] => [onThisMachine(key), onThisMachine(what)])
                .filter(([key, what]) => holds(`${key} ${what}`, search))
                .map(([key, what]) => (
                  <tr key={key} className="border-b border-fold align-baseline">
                    <th scope="row" className="py-1 pr-3 text-left font-mono font-medium">
                      {key}
                    </th>
                    <td className="py-1 text-soft">{what}</td>
                  </tr>
                ))}
            </tbody>
          </table>
          <p className="mt-8 text-sm">
            <Link to="/licences" className="underline">
              Licences of Oaken Thread and of what it is made from
            </Link>
          </p>
        </section>
      </main>
    </div>
  )
}

/** A text with the modifiers as they stand on this machine's keys. */
const onThisMachine = (text: string) =>
  text.replace(/\{(mod|alt|shift)\}/g, (_, modifier: 'mod' | 'alt' | 'shift') => modifierWords(modifier))
