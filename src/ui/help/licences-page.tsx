import { ArrowLeft } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'

/** Where the build puts the texts (see `scripts/licences.mjs`). */
const TEXTS = '/licences.txt'

/** The licence of the program, and those of all that is shipped with it, as they were found when it was built. */
export function LicencesPage() {
  const [texts, setTexts] = useState<string | null>(null)
  const [problem, setProblem] = useState(false)
  useEffect(() => {
    fetch(TEXTS)
      .then(async (response) => {
        const isText = response.headers.get('Content-Type')?.startsWith('text/plain') ?? false
        if (!response.ok || !isText) throw new Error('not there')
        setTexts(await response.text())
      })
      .catch(() => setProblem(true))
  }, [])
  return (
    <div className="min-h-full">
      <header className="flex h-13 items-center gap-3 border-b border-seam bg-cloth px-3">
        <Link
          to="/help"
          className="inline-flex h-8 items-center gap-1.5 rounded-lg px-2 text-sm font-medium hover:bg-fold"
        >
          <ArrowLeft size={17} />
          Help
        </Link>
        <h1 className="text-base font-bold">Licences</h1>
        {texts !== null && (
          <a href={TEXTS} download="oaken-thread-licences.txt" className="ml-auto text-sm underline">
            Save as text
          </a>
        )}
      </header>
      <main className="mx-auto max-w-4xl px-6 py-8">
        {problem ? (
          <p role="alert">
            The texts could not be loaded. They come with every build, in its file licences.txt.
          </p>
        ) : texts === null ? (
          <p className="text-soft">Loading …</p>
        ) : (
          <pre
            role="region"
            aria-label="Texts of the licences"
            tabIndex={0}
            className="font-mono text-xs leading-5 wrap-anywhere whitespace-pre-wrap"
          >
            {texts}
          </pre>
        )}
      </main>
    </div>
  )
}
