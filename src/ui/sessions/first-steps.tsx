import { Link } from 'react-router'
import { SAMPLE_ID } from '../../store/opening/sample-id'

/** What somebody who is here for the first time can do next, a line each. */
export function FirstSteps({ onImport }: { onImport(): void }) {
  const step =
    'flex flex-1 flex-col gap-1 rounded-2xl border border-seam bg-cloth/60 px-4 py-3 text-left hover:bg-white'
  return (
    <ol className="mt-6 flex gap-3 max-[760px]:flex-col" aria-label="First steps">
      <li className="flex flex-1">
        <Link to={`/session/${SAMPLE_ID}`} className={step}>
          <span className="font-semibold">1. Try it on the sample session</span>
          <span className="text-sm text-soft">
            Speech, music and effects with joins that pop and levels that are off.
          </span>
        </Link>
      </li>
      <li className="flex flex-1">
        <button type="button" onClick={onImport} className={step}>
          <span className="font-semibold">2. Bring your own recordings</span>
          <span className="text-sm text-soft">
            Drop them anywhere on this page; nothing leaves this computer.
          </span>
        </button>
      </li>
      <li className="flex flex-1">
        <Link to="/help" className={step}>
          <span className="font-semibold">3. See the job, step by step</span>
          <span className="text-sm text-soft">
            Level, shape, fade, mend, ride, compare, export: a paragraph each.
          </span>
        </Link>
      </li>
    </ol>
  )
}
