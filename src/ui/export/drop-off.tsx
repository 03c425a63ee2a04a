import { Check, CircleAlert, RotateCcw, Send } from 'lucide-react'
import { useEffect, useState } from 'react'
import { showMeasured } from '../../core/units/typed'
import type { ReceivingRules } from '../../engine/export'
import { deliverExport, exportAgain, receivingHere } from '../../store/actions/export-actions'
import type { ExportItem } from '../../store/jobs-slice'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'
import { JobBar } from '../parts/messages/running-jobs'

/** What receives finished files here; null where nothing does. */
export function useReceiving(): ReceivingRules | null {
  const [rules, setRules] = useState<ReceivingRules | null>(null)
  useEffect(() => {
    let over = false
    void receivingHere().then((found) => over || setRules(found))
    return () => void (over = true)
  }, [])
  return rules
}

/** A finished file on its way to the service that receives: its progress, its receipt, or why it was refused. */
export function DropOff({ item, rules }: { item: ExportItem; rules: ReceivingRules }) {
  const dispatch = useAppDispatch()
  const job = useAppSelector((s) => s.jobs.running.find(({ kind }) => kind === 'deliver'))
  const { delivery } = item
  const send = (text: string) => (
    <Button
      disabled={job !== undefined}
      title={
        rules.target
          ? `Delivered where ${rules.target.name} is asked for: ${showMeasured(rules.target.loudness, 'LUFS')}, at most ${showMeasured(rules.target.ceiling, 'dBTP')}`
          : 'Delivered in parts; a connection that breaks is taken up where it broke'
      }
      onClick={() => void dispatch(deliverExport(item.id))}
    >
      <Send size={15} aria-hidden />
      {text}
    </Button>
  )
  if (!delivery) return <div className="mt-2">{send('Drop off')}</div>
  return (
    <div
      className="mt-2 border-t border-seam pt-2 text-sm"
      role="status"
      aria-label={`Delivery of ${item.name}`}
    >
      {delivery.state === 'running' && job && <JobBar job={job} />}
      {delivery.state === 'received' && (
        <>
          <p className="flex items-start gap-1.5 text-pine">
            <Check size={16} className="mt-0.5 shrink-0" />
            Received {new Date(delivery.receipt.receivedAt).toLocaleTimeString()}, checked there: the same
            checksum,{' '}
            {delivery.receipt.integrated === null
              ? 'silence'
              : showMeasured(Math.round(delivery.receipt.integrated * 10) / 10, 'LUFS')}
            .
          </p>
          <p className="truncate font-mono text-2xs text-soft" title={delivery.receipt.id}>
            receipt {delivery.receipt.id}
          </p>
        </>
      )}
      {delivery.state === 'refused' && (
        <div className="flex items-start gap-2">
          <CircleAlert size={16} className="mt-0.5 shrink-0 text-fault" />
          <div className="min-w-0 flex-1">
            <p className="text-fault">
              Refused; nothing of it is kept there. The same file would be refused again: change what is named
              below, and render it again.
            </p>
            <ul>
              {delivery.reasons.map((reason) => (
                <li key={reason}>{reason}</li>
              ))}
            </ul>
          </div>
          <Button onClick={() => void dispatch(exportAgain(item.id))}>
            <RotateCcw size={15} aria-hidden />
            Render again
          </Button>
        </div>
      )}
      {delivery.state === 'broken' && (
        <div className="flex items-start gap-2">
          <p className="min-w-0 flex-1 text-madder">{delivery.message}</p>
          {send(delivery.begun ? 'Go on' : 'Try again')}
        </div>
      )}
    </div>
  )
}
