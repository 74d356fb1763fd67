import { afterEach, expect, it } from 'vitest'
import { forget, notices, takeBack, undoable } from './undo'

afterEach(() => notices.now().forEach(one => forget(one.id)))
const said = () => notices.now().map(one => one.says)
const latest = () => notices.now().at(-1)!.id

it('takes back what was done, once', async () => {
  let undone = 0
  undoable('It is changed.', () => {
    undone += 1
  })
  const id = latest()
  await Promise.all([takeBack(id), takeBack(id)])
  expect([undone, said()]).toEqual([1, []])
})
it.each([
  ['is refused', async () => 'it no longer holds.', 'It could not be taken back: it no longer holds.'],
  [
    'fails',
    async () => {
      throw new Error('no answer')
    },
    'It could not be taken back: the application does not answer, or cannot write.',
  ],
])('says so where that %s, and lets it be tried again', async (_, undo, words) => {
  undoable('It is changed.', undo)
  await takeBack(latest())
  expect(said()).toEqual(['It is changed.', words])
})
