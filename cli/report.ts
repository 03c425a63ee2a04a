import type { Target } from '../src/core/measure/target'
import { fetchCorrelations, planSession, renderedBlocks, tailEnd } from '../src/core/render'
import { CancellingTracksMeter } from '../src/core/suggest/cancelling-tracks'
import { ReportMeter, sessionReport, type SessionReport } from '../src/core/suggest/report'
import { listSeams, measureSeamOf, seamSpans, type MeasuredSeam } from '../src/core/suggest/seams'
import { UsageError } from './failure'
import type { Tell } from './progress'
import { withSession } from './session-file'

/** `oaken report`: the mix measured from beginning to end, its overloads, and the seams that click. */
export const report = (file: string, target: Target | null, tell: Tell): Promise<SessionReport> =>
  withSession(file, async (session, { cache }) => {
    const correlations = await fetchCorrelations(session, cache, false)
    const plan = planSession(session, { correlations })
    if (plan.length === 0) throw new UsageError('the session is empty; there is nothing to report on')
    const to = await tailEnd(plan, cache, { stage: 'mix', tail: 'audible' })
    const probe = new CancellingTracksMeter(session)
    const meter = new ReportMeter(session.sampleRate, 2, probe)
    const blocks = renderedBlocks(plan, cache, { stage: 'mix', from: 0, to, probe })
    for await (const { from, left, right, silent } of blocks) {
      meter.add(from, [left, right], silent)
      tell('Measuring the mix', (from + left.length) / to)
    }
    const seams: MeasuredSeam[] = []
    const listed = listSeams(session)
    for (const [n, seam] of listed.entries()) {
      const spans = seamSpans(session, seam)
      const measured = await cache.using(spans, () => measureSeamOf(session, seam, cache))
      seams.push({ ...seam, ...measured })
      tell('Measuring the seams', (n + 1) / listed.length)
    }
    tell('', 1)
    return sessionReport(session, meter.finish(), seams, target)
  })
