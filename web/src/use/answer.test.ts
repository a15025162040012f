import { expect, test } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { useAnswer } from './answer'

/** An answer that depends on a word; questions are answered by hand. */
function asking(pause = 0) {
  const word = ref('first')
  const sent: { word: string; answer: (told: string) => void; fail: () => void }[] = []
  const told = effectScope().run(() => useAnswer(() => word.value, () => {
    const own = word.value
    if (own === 'none') return null
    if (own === 'stay') return undefined
    return () => new Promise<string>((answer, refuse) => { sent.push({ word: own, answer, fail: () => refuse(new Error('away')) }) })
  }, pause))!
  const say = async (next: string) => { word.value = next; await nextTick() }
  const settled = () => new Promise((resume) => { setTimeout(resume) })
  return { told, sent, say, settled }
}

test('one question is on its way at a time, and what was overtaken does not count', async () => {
  const { told, sent, say, settled } = asking()
  await say('second')
  await say('third')
  expect(sent.map((each) => each.word)).toEqual(['first'])
  sent[0]!.answer('1')
  await settled()
  expect(told.value).toBe(null)
  expect(sent.map((each) => each.word)).toEqual(['first', 'third'])
  sent[1]!.answer('3')
  await settled()
  expect(told.value).toBe('3')
})

test('where there is nothing to be told the last answer goes at once, and is kept where it is to stay', async () => {
  const { told, sent, say, settled } = asking()
  sent[0]!.answer('1')
  await settled()
  await say('stay')
  expect(told.value).toBe('1')
  await say('second')
  await say('none')
  expect(told.value).toBe(null)
  sent[1]!.answer('2')
  await settled()
  expect(told.value).toBe(null)
  await say('third')
  sent[2]!.fail()
  await settled()
  expect(told.value).toBe(null)
  await say('fourth')
  expect(sent.length).toBe(4)
})

test('what gives way leaves when nothing has changed for its pause', async () => {
  const { sent, say, settled } = asking(40)
  await say('second')
  expect(sent).toEqual([])
  while (!sent.length) await new Promise((resume) => { setTimeout(resume, 10) })
  expect(sent.map((each) => each.word)).toEqual(['second'])
  sent[0]!.answer('2')
  await settled()
  await say('third')
  await say('none')
  await new Promise((resume) => { setTimeout(resume, 100) })
  expect(sent.length).toBe(1)
})
