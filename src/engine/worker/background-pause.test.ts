import {
  changeIsHeard,
  onRestReason,
  untilIdle,
  setPointerHeld,
  isUserBusy,
  onBusyChange,
  playbackBegins,
  watchInteraction,
  whenIdle,
} from './background-pause'

test('what waits for the hand goes on when its button is up, or when the window has lost it', async () => {
  const window = new EventTarget()
  watchInteraction(window as unknown as Window)
  const heard: boolean[] = []
  const stop = onBusyChange((held) => heard.push(held))
  const send = (type: string, buttons = 0) =>
    window.dispatchEvent(Object.assign(new Event(type), { buttons }))
  await untilIdle()
  for (const end of ['pointerup', 'pointercancel', 'blur', 'pointermove']) {
    send('pointerdown', 1)
    let free = false
    const waiting = untilIdle().then(() => (free = true))
    send('pointermove', 1)
    await Promise.resolve()
    expect(free).toBe(false)
    send(end)
    await waiting
  }
  stop()
  send('pointerdown', 1)
  send('pointerup')
  expect(heard).toEqual(Array.from({ length: 4 }, () => [true, false]).flat())
})

test('what no longer waits for the hand is not called', () => {
  const called: string[] = []
  setPointerHeld(true)
  expect(isUserBusy()).toBe(true)
  whenIdle(() => called.push('waits'))
  whenIdle(() => called.push('given up'))()
  setPointerHeld(false)
  whenIdle(() => called.push('at once'))
  expect([isUserBusy(), ...called]).toEqual([false, 'waits', 'at once'])
})

test('the background rests for three seconds when sound begins, and longer while a hand still holds', () => {
  jest.useFakeTimers({ now: 1e12 })
  const heard: boolean[] = []
  const stop = onBusyChange((held) => heard.push(held))
  playbackBegins()
  jest.advanceTimersByTime(2000)
  playbackBegins()
  jest.advanceTimersByTime(2999)
  expect(heard).toEqual([true])
  setPointerHeld(true)
  jest.advanceTimersByTime(1)
  expect(heard).toEqual([true])
  setPointerHeld(false)
  expect(heard).toEqual([true, false])
  stop()
  jest.useRealTimers()
})

test('the background rests while the wheel is turned, and a little longer; a beginning sound is not cut short by it', () => {
  jest.useFakeTimers({ now: 2e12 })
  const window = new EventTarget()
  watchInteraction(window as unknown as Window)
  const heard: boolean[] = []
  const stop = onBusyChange((held) => heard.push(held))
  for (let i = 0; i < 5; i++) {
    window.dispatchEvent(new Event('wheel'))
    jest.advanceTimersByTime(200)
  }
  expect(heard).toEqual([true])
  jest.advanceTimersByTime(100)
  expect(heard).toEqual([true, false])
  playbackBegins()
  window.dispatchEvent(new Event('wheel'))
  jest.advanceTimersByTime(2999)
  expect(heard).toEqual([true, false, true])
  jest.advanceTimersByTime(1)
  expect(heard).toEqual([true, false, true, false])
  stop()
  jest.useRealTimers()
})

test('the rest ends when its timer does, even where the clock has not moved on by as much', () => {
  jest.useFakeTimers({ now: 3e12 })
  const clock = jest.spyOn(performance, 'now').mockReturnValue(5e12)
  const window = new EventTarget()
  watchInteraction(window as unknown as Window)
  const heard: boolean[] = []
  const stop = onBusyChange((held) => heard.push(held))
  window.dispatchEvent(new Event('wheel'))
  jest.advanceTimersByTime(300)
  expect(heard).toEqual([true, false])
  stop()
  clock.mockRestore()
  jest.useRealTimers()
})

test('what works beside rests while a change is about to be heard, whatever else it does', () => {
  jest.useFakeTimers({ now: 2e12 })
  const reasons: string[] = []
  const stop = onRestReason((reason) => reasons.push(reason))
  changeIsHeard()
  jest.advanceTimersByTime(100)
  changeIsHeard()
  jest.advanceTimersByTime(119)
  expect(reasons).toEqual(['hand'])
  jest.advanceTimersByTime(1)
  expect(reasons).toEqual(['hand', 'none'])
  stop()
  jest.useRealTimers()
})
