import { computed, effectScope, ref } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { problemOf } from '../ui/use-act'
import { useOutbox, type Waiting } from './use-outbox'

// What Nuxt would import by itself, and the browser's own store.
const store = new Map<string, string>()
Object.assign(globalThis, { ref, computed, problemOf })

const act = (summary: string, document = 'build/1') => ({
  url: '/record',
  body: { version: 1, made: summary },
  document,
  summary,
})
/** An outbox over a server that answers as `answers` says, act by act. */
function over(answers: (act: Waiting) => { version?: number } | 'cut' | 'refused') {
  const sent: { summary: string; key: string; version: unknown }[] = []
  const said: string[] = []
  const box = effectScope().run(() =>
    useOutbox(
      async (act) => {
        sent.push({ summary: act.summary, key: act.key, version: act.body.version })
        const answer = answers(act)
        if (answer === 'cut') {
          throw new Error('fetch failed')
        }
        if (answer === 'refused') {
          throw Object.assign(new Error('refused'), {
            data: { type: 'urn:tsumiki:short', title: 'There is not enough', detail: '3 pc missing.' },
          })
        }
        return answer
      },
      (act) => said.push(act.summary),
    ),
  )!
  box.waiting.value = []
  return { box, sent, said }
}
beforeEach(() => {
  store.clear()
})

describe('the outbox', () => {
  it('sends at once where the connection holds', async () => {
    const { box, said } = over(() => ({ version: 2 }))
    await box.put(act('3'))
    expect([said, box.waiting.value, box.isCut.value]).toEqual([['3'], [], false])
  })
  it('keeps what was not answered, sends it again under the same key, in order, each with the version of the answer before', async () => {
    let cut = true
    const { box, sent, said } = over(() => (cut ? 'cut' : { version: sent.length + 10 }))
    await box.put(act('3'))
    await box.put(act('2'))
    expect([box.isCut.value, box.waiting.value.map((act) => act.summary)]).toEqual([true, ['3', '2']])
    cut = false
    await box.flush()
    expect([said, box.waiting.value, box.isCut.value]).toEqual([['3', '2'], [], false])
    expect(new Set(sent.filter((act) => act.summary === '3').map((act) => act.key)).size).toBe(1)
    expect(sent.at(-1)!.version).toBe(13)
  })
  it('an act that is refused stays with its reason, holds back what follows on its document, and nothing else', async () => {
    const { box, said } = over((act) => (act.document === 'build/1' ? 'refused' : { version: 2 }))
    await box.put(act('3'))
    await box.put(act('2'))
    await box.put(act('7', 'build/2'))
    expect([said, box.waiting.value.map((act) => [act.summary, act.refused])]).toEqual([
      ['7'],
      [
        ['3', '3 pc missing.'],
        ['2', undefined],
      ],
    ])
    box.drop(box.waiting.value[0]!.key)
    expect(box.waiting.value.map((act) => act.summary)).toEqual(['2'])
  })
  it('where somebody else was quicker, what still fits goes out, and the rest stays with the reason', async () => {
    const sent: unknown[] = []
    const stale = { data: { type: 'urn:tsumiki:stale-version', title: 'Changed', detail: 'Somebody was quicker.' } }
    const box = effectScope().run(() =>
      useOutbox(
        (act) => {
          sent.push([act.body.version, act.body.made])
          return act.body.version === 3
            ? Promise.resolve({ version: 4 })
            : Promise.reject(Object.assign(new Error('stale'), stale))
        },
        undefined,
        (act) =>
          Promise.resolve({
            fits: { body: { ...act.body, version: Number(act.body.version) + 1, made: '2' }, summary: '2 pc' },
            rest: act.summary === '5 pc' ? { summary: '3 pc', reason: 'No more is left.' } : null,
          }),
      ),
    )!
    box.waiting.value = []
    await box.put({ ...act('5 pc'), body: { version: 1, made: '5' } })
    expect(sent).toEqual([
      [1, '5'],
      [2, '2'],
      [3, '2'],
    ])
    expect(box.waiting.value.map((act) => [act.summary, act.refused])).toEqual([['3 pc', 'No more is left.']])
  })
  it('two flushes at once send each act once', async () => {
    const { box, sent } = over(() => ({ version: 2 }))
    box.waiting.value = [{ ...act('3'), key: 'k', at: '' }]
    await Promise.all([box.flush(), box.flush()])
    expect(sent.length).toBe(1)
  })
})
