import { useEffect } from 'react'
import { Link, useRouteError } from 'react-router'
import { Button } from '../button'

/** Shown when a page throws: the work is saved, and there is a way back to it. */
export function ErrorPage() {
  const error = useRouteError()
  // How browsers say it of a module that they could not fetch.
  const notLoaded = error instanceof TypeError && /import|module script/i.test(error.message)
  useEffect(() => {
    void import('../../../store/playback/playback').then(
      ({ getPlayer }) => getPlayer()?.pause(),
      () => undefined,
    )
  }, [])
  return (
    <main className="flex h-full flex-col items-center justify-center gap-4 p-8 text-center">
      <h1 className="text-xl font-bold">
        {notLoaded ? 'This page could not be loaded.' : 'This page has come apart.'}
      </h1>
      <p className="max-w-md text-soft">
        Every step that you have done is kept in this browser.{' '}
        {notLoaded
          ? 'Are you offline, or is the server gone? Open the page again when it can be reached.'
          : 'Open the page again to go on from there; if it comes apart again, go to the sessions and open a duplicate.'}
      </p>
      <div className="flex gap-2">
        <Button kind="solid" onClick={() => window.location.reload()}>
          Open it again
        </Button>
        <Link
          to="/"
          className="inline-flex h-8 items-center rounded-lg border border-seam bg-linen px-3 text-sm font-medium hover:bg-white"
        >
          Go to the sessions
        </Link>
      </div>
      <p className="max-w-xl font-mono text-xs wrap-anywhere text-soft">
        {error instanceof Error ? `${error.name}: ${error.message}` : String(error)}
      </p>
    </main>
  )
}
