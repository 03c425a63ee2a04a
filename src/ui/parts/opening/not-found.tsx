import { Link } from 'react-router'

/** A page for what is not there, with a way on. */
export function NotFound({ what }: { what: string }) {
  return (
    <main className="flex h-full flex-col items-center justify-center gap-4 p-8 text-center">
      <h1 className="text-xl font-bold">{what}</h1>
      <Link
        to="/"
        className="rounded-lg border border-oak bg-oak px-4 py-2 font-medium text-white hover:bg-oak-deep"
      >
        Go to the sessions
      </Link>
    </main>
  )
}
