import { moveSimulated, readMidi, simulatedFader, writeMidi, type FaderMove, PickUp } from './midi-faders'

test('control changes of channel volume and pan are read; all else is not', () => {
  expect(readMidi([0xb0, 7, 127])).toEqual({ channel: 1, control: 'volume', value: 1 })
  expect(readMidi([0xbf, 7, 0])).toEqual({ channel: 16, control: 'volume', value: 0 })
  expect(readMidi([0xb2, 10, 64])).toEqual({ channel: 3, control: 'pan', value: 0 })
  expect(readMidi([0xb2, 10, 127])?.value).toBe(1)
  expect(readMidi([0xb2, 10, 0])?.value).toBe(-1)
  for (const other of [[0x90, 60, 100], [0xb0, 1, 5], [0xb0, 7], [0xb0, 7, 200], []])
    expect(readMidi(other)).toBeNull()
})

test('the simulated fader speaks MIDI: its movements arrive within half a step of 1/127', () => {
  const heard: FaderMove[] = []
  const stop = simulatedFader.listen((move) => heard.push(move))
  moveSimulated({ channel: 4, control: 'volume', value: 0.5 })
  moveSimulated({ channel: 4, control: 'pan', value: -1 })
  stop()
  moveSimulated({ channel: 4, control: 'volume', value: 1 })
  expect(heard).toHaveLength(2)
  expect(Math.abs(heard[0]!.value - 0.5)).toBeLessThanOrEqual(0.5 / 127)
  expect(heard[1]).toEqual({ channel: 4, control: 'pan', value: -1 })
  expect(writeMidi({ channel: 1, control: 'pan', value: 0 })).toEqual([0xb0, 10, 64])
})

test('a fader takes hold of a value only when it comes to it or passes it, and anew after it was let go', () => {
  const pickUp = new PickUp()
  // Down from 0.9 to a value that stands at 0.5.
  expect([0.9, 0.7, 0.53].map((v) => pickUp.takes(v, 0.5, 1))).toEqual([false, false, false])
  expect([0.45, 0.2, 0.8].map((v) => pickUp.takes(v, 0.5, 1))).toEqual([true, true, true])
  pickUp.release()
  expect(pickUp.takes(0.81, 0.5, 1)).toBe(false)
  // As near as two hundredths of its way is there.
  expect(pickUp.takes(0.519, 0.5, 1)).toBe(true)
})
