import clsx from 'clsx'
import { Headphones } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useEffect, useState } from 'react'
import { monitorViews, type MonitorView } from '../../../engine/playback'
import { changeMonitor, monitor, monitorWords } from '../../../store/playback/monitoring'
import { getPlayer } from '../../../store/playback/playback'
import { useAppSelector, useObservable } from '../../parts/hooks'
import { Tick } from '../../parts/panel'
import { unlessInDialog } from '../../parts/focus-return'

const VIEWS: Record<MonitorView, string> = {
  stereo: 'Stereo',
  mono: 'Mono',
  left: 'Left only',
  right: 'Right only',
  swapped: 'Swapped',
  side: 'Side only',
}

/** How what is heard is led to the ears. A sign stays while anything is on; no file is touched by it. */
export function MonitorButton() {
  const now = useObservable(monitor)
  const on = monitorWords(now)
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={on.length ? `Monitor: ${on.join(', ')}` : 'Monitor'}
        title="What you hear of it: level, mono, one side, the device. Files are not changed by it."
        className={clsx(
          'inline-flex h-6 items-center gap-1.5 rounded-md px-2',
          on.length ? 'bg-rust/15 font-semibold text-rust' : 'hover:bg-fold',
        )}
      >
        <Headphones size={13} aria-hidden />
        <span className="max-w-40 truncate max-[1080px]:hidden">{on.length ? on.join(', ') : 'Monitor'}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          side="top"
          sideOffset={8}
          collisionPadding={8}
          aria-label="Monitor"
          className="z-50 flex w-72 flex-col gap-3 rounded-xl border border-seam bg-linen p-3 shadow-lg"
        >
          <p className="text-xs text-soft">Only for your ears: no file is changed by what is chosen here.</p>
          <label className="flex flex-col gap-1 text-sm">
            <span className="flex justify-between">
              <span className="font-semibold">Level</span>
              <span className="font-mono">{now.levelDb === 0 ? '0 dB' : `−${-now.levelDb} dB`}</span>
            </span>
            <input
              type="range"
              min={-60}
              max={0}
              step={1}
              value={now.levelDb}
              onChange={(event) => changeMonitor({ levelDb: Number(event.target.value) })}
              onDoubleClick={() => changeMonitor({ levelDb: 0 })}
              className="accent-oak"
            />
          </label>
          <Tick checked={now.dim} onChange={(dim) => changeMonitor({ dim })}>
            Dim, 20 dB softer
          </Tick>
          <div role="radiogroup" aria-label="What is heard" className="grid grid-cols-3 gap-1">
            {monitorViews.map((view) => (
              <button
                key={view}
                type="button"
                role="radio"
                aria-checked={now.view === view}
                onClick={() => changeMonitor({ view })}
                className={clsx(
                  'h-7 rounded-md border text-xs font-medium',
                  now.view === view ? 'border-oak bg-oak text-white' : 'border-seam hover:bg-fold',
                )}
              >
                {VIEWS[view]}
              </button>
            ))}
          </div>
          <Device deviceId={now.deviceId} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** The device that plays, where the browser lets one choose, and its rate against the session's. */
function Device({ deviceId }: { deviceId: string }) {
  const sessionRate = useAppSelector((s) => s.session.session?.sampleRate)
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([])
  useEffect(() => {
    void navigator.mediaDevices
      ?.enumerateDevices()
      .then((all) => setDevices(all.filter(({ kind, deviceId: id }) => kind === 'audiooutput' && id !== '')))
      .catch(() => undefined)
  }, [])
  const canChoose = typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype
  const rate = getPlayer()?.deviceRate
  return (
    <div className="flex flex-col gap-1 text-sm">
      <label className="flex flex-col gap-1">
        <span className="font-semibold">Output device</span>
        <select
          value={deviceId}
          disabled={!canChoose || devices.length === 0}
          onChange={(event) => changeMonitor({ deviceId: event.target.value })}
          className="h-8 rounded-lg border border-seam bg-linen px-2"
        >
          <option value="">That of the system</option>
          {devices.map((device, n) => (
            <option key={device.deviceId} value={device.deviceId}>
              {device.label || `Device ${n + 1}`}
            </option>
          ))}
        </select>
      </label>
      <p className="text-xs text-soft">
        {!canChoose || devices.length === 0 ? 'This browser offers no other device to this page. ' : ''}
        {rate === null || rate === undefined
          ? 'Its rate is known once something was played.'
          : rate === sessionRate
            ? `It is played at ${rate / 1000} kHz, the session’s rate.`
            : `It is played at ${rate / 1000} kHz; the session has ${(sessionRate ?? 0) / 1000} kHz.`}
      </p>
    </div>
  )
}
