import { handFree, handHolds, onHandHolds, soundBegins, watchHand } from './hand'

test('what waits for the hand goes on when its button is up, or when the window has lost it', async () => {
  const window = new EventTarget()
  watchHand(window as unknown as Window)
  const heard: boolean[] = []
  const stop = onHandHolds((held) => heard.push(held))
  const send = (type: string, buttons = 0) => window.dispatchEvent(Object.assign(new Event(type), { buttons }))
  await handFree()
  for (const end of ['pointerup', 'pointercancel', 'blur', 'pointermove']) {
    send('pointerdown', 1)
    let free = false
    const waiting = handFree().then(() => (free = true))
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

test('the background rests for three seconds when sound begins, and longer while a hand still holds', () => {
  jest.useFakeTimers()
  const heard: boolean[] = []
  const stop = onHandHolds((held) => heard.push(held))
  soundBegins()
  jest.advanceTimersByTime(2000)
  soundBegins()
  jest.advanceTimersByTime(2999)
  expect(heard).toEqual([true])
  handHolds(true)
  jest.advanceTimersByTime(1)
  expect(heard).toEqual([true])
  handHolds(false)
  expect(heard).toEqual([true, false])
  stop()
  jest.useRealTimers()
})
