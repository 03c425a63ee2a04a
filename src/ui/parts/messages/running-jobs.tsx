import { useEffect, useRef } from 'react'
import { matchPath, Outlet, useLocation } from 'react-router'
import { cancelJob } from '../../../store/jobs'
import type { JobKind, RunningJob } from '../../../store/jobs-slice'
import { download } from '../copies/download'
import { useAppSelector } from '../hooks'
import { ProgressBar } from './progress-bar'
import { PageQuestions } from './page-questions'
import { toast } from './toast'

/** What stands on every page: the page itself, the jobs that are going on, and what became of imports. */
export function PageWithJobs() {
  return (
    <>
      <Outlet />
      <RunningJobs />
      <PageQuestions />
    </>
  )
}

/** The session whose page of exports, or of its report, is shown; null elsewhere. */
function useExportPageOf(): { sessionId: string; shows: ReadonlySet<JobKind> } | null {
  const { pathname } = useLocation()
  const exports = matchPath('/session/:id/export', pathname)?.params.id
  if (exports !== undefined) return { sessionId: exports, shows: ON_EXPORT }
  const report = matchPath('/session/:id/report', pathname)?.params.id
  return report === undefined ? null : { sessionId: report, shows: ON_REPORT }
}

/** Jobs that these pages show themselves. */
const ON_EXPORT: ReadonlySet<JobKind> = new Set(['export', 'measure', 'zip', 'deliver'])
const ON_REPORT: ReadonlySet<JobKind> = new Set(['measure'])

/** Jobs at the foot of the page, each with a way to stop it, but those that the page shows itself. */
function RunningJobs() {
  const page = useExportPageOf()
  const running = useAppSelector((s) => s.jobs.running)
  useExportTold(page?.shows.has('export') ? page.sessionId : null)
  const shown = running.filter((job) => job.sessionId !== page?.sessionId || !page.shows.has(job.kind))
  if (shown.length === 0) return null
  return (
    <div className="fixed bottom-10 left-1/2 z-40 flex w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 flex-col gap-3 rounded-xl border border-seam bg-white p-4 shadow-lg">
      {shown.map((job) => (
        <JobBar key={job.kind} job={job} />
      ))}
    </div>
  )
}

/** How far a job is, how long it still takes, and the way to stop it. */
export function JobBar({ job }: { job: RunningJob }) {
  const { progress, since, kind } = job
  const left = ((performance.now() - since) / Math.max(progress.done, 1e-6)) * (1 - progress.done)
  const rest =
    kind === 'import' || kind === 'render' || progress.done <= 0.02
      ? undefined
      : left < 1000
        ? 'less than a second left'
        : `${Math.ceil(left / 1000)} s left`
  return <ProgressBar progress={progress} rest={rest} onCancel={() => cancelJob(kind)} />
}

/** Says on other pages when the files that were asked for are rendered, and offers the file where it is one. */
function useExportTold(page: string | null): void {
  const exports = useAppSelector((s) => s.jobs.exports)
  const told = useRef(new Set<string>())
  const onPage = useRef(page)
  useEffect(() => void (onPage.current = page))
  useEffect(() => {
    if (exports.some(({ state }) => state === 'waiting' || state === 'running')) return
    const ended = exports.filter(({ id, state }) => state !== 'cancelled' && !told.current.has(id))
    for (const { id } of ended) told.current.add(id)
    const elsewhere = ended.filter(({ session }) => session.id !== onPage.current)
    const done = elsewhere.filter(({ file }) => file)
    const [first] = done
    if (first && done.length === 1)
      toast({
        text: `“${first.name}” is rendered.`,
        action: { label: 'Download', run: () => download(first.file!.url, first.name) },
        stays: 30_000,
      })
    else if (first)
      toast({ text: `${done.length} files are rendered; they wait on the page “Export”.`, stays: 30_000 })
    for (const { name, failure } of elsewhere)
      if (failure) toast({ text: `“${name}” was not rendered: ${failure}` })
  }, [exports])
}
