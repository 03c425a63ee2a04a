import { useEffect, useRef } from 'react'
import { matchPath, Outlet, useLocation } from 'react-router'
import { cancelJob } from '../../store/jobs'
import type { RunningJob } from '../../store/jobs-slice'
import { download } from './download'
import { useAppSelector } from './hooks'
import { ProgressBar } from './progress-bar'
import { RefusedFilesDialog } from './refused-files'
import { ImportQuestion } from './import-question'
import { CopyQuestion } from './session-copy'
import { toast } from './toast'

/** What stands on every page: the page itself, the jobs that are going on, and what became of imports. */
export function PageWithJobs() {
  return (
    <>
      <Outlet />
      <RunningJobs />
      <RefusedFilesDialog />
      <CopyQuestion />
      <ImportQuestion />
    </>
  )
}

/** The session whose export page is shown; null elsewhere. */
function useExportPageOf(): string | null {
  const { pathname } = useLocation()
  return matchPath('/session/:id/export', pathname)?.params.id ?? null
}

/** Jobs at the foot of the page, each with a way to stop it. An export is shown by its own page while that is there. */
function RunningJobs() {
  const page = useExportPageOf()
  const running = useAppSelector((s) => s.jobs.running)
  useExportTold(page)
  const shown = running.filter((job) => job.kind !== 'export' || job.sessionId !== page)
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

/** Says on other pages that an export is done, and offers its file there. */
function useExportTold(page: string | null): void {
  const { exported, exportFailure } = useAppSelector((s) => s.jobs)
  const onPage = useRef(page)
  useEffect(() => void (onPage.current = page))
  useEffect(() => {
    if (exported && exported.session.id !== onPage.current)
      toast({
        text: `“${exported.name}” is rendered.`,
        action: { label: 'Download', run: () => download(exported.url, exported.name) },
        stays: 30_000,
      })
  }, [exported])
  useEffect(() => {
    if (exportFailure && onPage.current === null) toast({ text: exportFailure })
  }, [exportFailure])
}
