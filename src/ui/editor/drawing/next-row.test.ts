import { nextRow } from './next-row'

/** The rows in the order in which they come, when each is done as it is named. */
function order(
  seen: { first: number; last: number },
  count: number,
  down: boolean,
  ahead: number,
  done: number[] = [],
): number[] {
  const found: number[] = []
  for (;;) {
    const row = nextRow(seen, count, down, ahead, (r) => !done.includes(r) && !found.includes(r))
    if (row === null) return found
    found.push(row)
  }
}

test('the rows nearest to those in sight come first, on the side to which it went, and none beyond what is to be ahead', () => {
  expect(order({ first: 10, last: 14 }, 100, true, 3)).toEqual([14, 9, 15, 8, 16, 7])
  expect(order({ first: 10, last: 14 }, 100, false, 3)).toEqual([9, 14, 8, 15, 7, 16])
  expect(order({ first: 10, last: 14 }, 100, true, 3, [14, 9, 8])).toEqual([15, 16, 7])
})

test('there are no rows before the first and after the last', () => {
  expect(order({ first: 0, last: 4 }, 6, true, 3)).toEqual([4, 5])
  expect(order({ first: 1, last: 6 }, 6, true, 3)).toEqual([0])
  expect(order({ first: 0, last: 0 }, 0, true, 3)).toEqual([])
})
