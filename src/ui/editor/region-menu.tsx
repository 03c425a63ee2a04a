import { ContextMenu, Dialog } from 'radix-ui'
import { useState, type ReactNode } from 'react'
import { useForm } from 'react-hook-form'
import { hearAlone } from '../../store/playback'
import { copySelected, cutSelected, deleteSelected, duplicateSelected, joinSelected, pasteHere, splitHere, switchSelected, trimToPlayhead, unlinkSelected } from '../../store/region-actions'
import { Button } from '../parts/button'
import { useAppDispatch, useAppSelector } from '../parts/hooks'

/** The menu of the right mouse button over the timeline: all that can be done to the selected regions, with its keys. */
export function RegionMenu({ children }: { children: ReactNode }) {
  const dispatch = useAppDispatch()
  const session = useAppSelector((s) => s.session.session)
  const selection = useAppSelector((s) => s.view.selection)
  const range = useAppSelector((s) => s.view.range)
  const [repeating, setRepeating] = useState(false)
  const first = session?.regions[selection[0] ?? '']
  const shared = first?.gainThreadId ? Object.values(session!.regions).filter((r) => r.gainThreadId === first.gainThreadId).length > 1 : false
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-50 max-h-[90vh] min-w-64 overflow-auto rounded-xl border border-seam bg-white p-1 text-sm shadow-lg">
          {first ? (
            <>
              <Item text="Hear alone" keys="A" onSelect={() => dispatch(hearAlone(first.id))} />
              <Line />
              <Item text={range ? 'Split at the ends of the range' : 'Split at the playhead'} keys="K" onSelect={() => dispatch(splitHere())} />
              <Item text="Trim start to the playhead" keys="[" onSelect={() => dispatch(trimToPlayhead('start'))} />
              <Item text="Trim end to the playhead" keys="]" onSelect={() => dispatch(trimToPlayhead('end'))} />
              <Item text="Join pieces" keys="J" disabled={selection.length < 2} onSelect={() => dispatch(joinSelected())} />
              <Line />
              <Item text="Duplicate" keys="2" onSelect={() => dispatch(duplicateSelected(false))} />
              <Item text="Duplicate linked" keys="Shift 2" onSelect={() => dispatch(duplicateSelected(true))} />
              <Item text="Repeat linked…" onSelect={() => setRepeating(true)} />
              <Item text="Unlink" disabled={!shared} onSelect={() => dispatch(unlinkSelected())} />
              <Line />
              <Item text="Cut" keys="Ctrl X" onSelect={() => dispatch(cutSelected())} />
              <Item text="Copy" keys="Ctrl C" onSelect={() => void dispatch(copySelected())} />
              <Item text="Paste at the playhead" keys="Ctrl V" onSelect={() => dispatch(pasteHere())} />
              <Line />
              <Item text={first.muted ? 'Unmute' : 'Mute'} onSelect={() => dispatch(switchSelected('muted'))} />
              <Item text={first.reversed ? 'Play forwards' : 'Reverse'} onSelect={() => dispatch(switchSelected('reversed'))} />
              <Item text={first.locked ? 'Unlock' : 'Lock'} onSelect={() => dispatch(switchSelected('locked'))} />
              <Line />
              <Item text="Delete" keys="Del" onSelect={() => dispatch(deleteSelected(false))} />
              <Item text="Delete and close the gap" keys="Shift Del" onSelect={() => dispatch(deleteSelected(true))} />
            </>
          ) : (
            <Item text="Paste at the playhead" keys="Ctrl V" onSelect={() => dispatch(pasteHere())} />
          )}
        </ContextMenu.Content>
      </ContextMenu.Portal>
      {repeating && <RepeatDialog onClose={() => setRepeating(false)} onRepeat={(times) => dispatch(duplicateSelected(true, times))} />}
    </ContextMenu.Root>
  )
}

function Item({ text, keys, disabled, onSelect }: { text: string; keys?: string; disabled?: boolean; onSelect(): void }) {
  return (
    <ContextMenu.Item disabled={disabled} onSelect={onSelect} className="flex cursor-pointer items-center justify-between gap-6 rounded-lg px-3 py-1 outline-none data-disabled:opacity-45 data-highlighted:bg-cloth">
      {text}
      {keys && <span className="font-mono text-2xs text-soft">{keys}</span>}
    </ContextMenu.Item>
  )
}

const Line = () => <ContextMenu.Separator className="my-1 h-px bg-fold" />

const MOST = 200

/** Asks how often the selected regions are to be repeated. */
function RepeatDialog({ onRepeat, onClose }: { onRepeat(times: number): void; onClose(): void }) {
  const { register, handleSubmit, formState: { errors } } = useForm({ defaultValues: { times: '4' } })
  const submit = handleSubmit(({ times }) => {
    onRepeat(Number(times))
    onClose()
  })
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content onKeyDown={(e) => e.stopPropagation()} className="fixed top-1/2 left-1/2 z-50 w-96 max-w-[calc(100vw-2rem)] -translate-x-1/2 -translate-y-1/2 rounded-2xl border border-seam bg-linen p-5 shadow-2xl">
          <Dialog.Title className="text-lg font-bold">Repeat linked</Dialog.Title>
          <Dialog.Description className="mt-1 text-sm text-soft">Copies follow one after another and share one gain thread: shaping one shapes all.</Dialog.Description>
          <form onSubmit={(event) => void submit(event)}>
            <label className="mt-4 block text-xs text-soft" htmlFor="times">How many copies</label>
            <input
              id="times" autoComplete="off" inputMode="numeric" className="mt-1 h-9 w-full rounded-lg border border-seam bg-white px-3 font-mono" aria-invalid={errors.times !== undefined}
              {...register('times', { validate: (text) => (/^\s*\d+\s*$/.test(text) && Number(text) >= 1 && Number(text) <= MOST) || `Type a whole number from 1 to ${MOST}.` })}
            />
            {errors.times && <p role="alert" className="mt-1 text-sm text-madder">{errors.times.message}</p>}
            <div className="mt-5 flex justify-end gap-2">
              <Dialog.Close asChild><Button>Cancel</Button></Dialog.Close>
              <Button kind="solid" type="submit">Repeat</Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
