import { ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { problemOf, useAct } from './use-act'

// What Nuxt would import by itself.
Object.assign(globalThis, { ref })

const refused = {
  data: {
    type: 'urn:tsumiki:stale-version',
    title: 'It was changed meanwhile',
    detail: 'Ines changed it.',
    fields: { name: 'Give a name.' },
  },
}
/** A promise that is kept or broken by hand. */
function later<T>() {
  let keep!: (value: T) => void
  let fail!: (error: unknown) => void
  const promise = new Promise<T>((resolve, reject) => {
    keep = resolve
    fail = reject
  })
  return { promise, keep, fail }
}

describe('an act', () => {
  it('keeps its key until it has succeeded, so that sending it twice counts once', async () => {
    const act = useAct()
    const keys: string[] = []
    await act.run(async (key) => {
      keys.push(key)
      throw refused
    })
    await act.run(async (key) => {
      keys.push(key)
      return 1
    })
    await act.run(async (key) => {
      keys.push(key)
      return 1
    })
    expect([keys[0] === keys[1], keys[1] === keys[2]]).toEqual([true, false])
  })
  it('tells a refusal beside its fields, and forgets it when it is tried again', async () => {
    const act = useAct()
    expect(await act.run(() => Promise.reject(refused))).toBeNull()
    expect([act.detail.value, act.code.value, act.fields.value, act.busy.value]).toEqual([
      'Ines changed it.',
      'stale-version',
      { name: 'Give a name.' },
      false,
    ])
    await act.run(async () => 'done')
    expect([act.detail.value, act.fields.value]).toEqual(['', {}])
  })
  it('is passed over while another is under way', async () => {
    const act = useAct()
    const first = later<string>()
    const running = act.run(() => first.promise)
    expect(await act.run(async () => 'second')).toBeNull()
    first.keep('first')
    expect(await running).toBe('first')
  })
  it('no answer at all is told as such', () => {
    expect(problemOf(new Error('fetch failed'))).toMatchObject({
      type: 'offline',
      detail: 'Tsumiki did not answer. What you did may have been saved: reload the page before you do it again.',
    })
  })
})

describe('an act whose answer is lost', () => {
  const lost = new Error('fetch failed')
  const told = async (answer: unknown): Promise<[unknown, string, string[]]> => {
    const asked: string[] = []
    Object.assign(globalThis, {
      $fetch: async (path: string) => {
        asked.push(path)
        return answer
      },
    })
    const act = useAct()
    let used = ''
    const found = await act.run(async (key) => {
      used = key
      throw lost
    })
    return [found, act.detail.value, asked.map((path) => path.replace(used, 'the key'))]
  }

  it('is asked for by its key; what was recorded is its answer', async () => {
    expect(await told({ recorded: true, answer: { id: 7 } })).toEqual([{ id: 7 }, '', ['/api/company/acts/the key']])
  })
  it('is told not to have been recorded where it was not', async () => {
    const [answer, detail] = await told({ recorded: false })
    expect([answer, detail]).toEqual([null, 'The answer did not come, and it was not recorded. Try again.'])
  })
  it('without a key it may have been saved', async () => {
    const act = useAct()
    expect(await act.run(() => Promise.reject(lost))).toBeNull()
    expect(act.detail.value).toContain('may have been saved')
  })
})

describe('a question that is asked again before it is answered', () => {
  it('is answered by the last, in whatever order the answers come', async () => {
    const act = useAct({ latest: true })
    const [slow, quick] = [later<string>(), later<string>()]
    const answers = [act.run(() => slow.promise), act.run(() => quick.promise)]
    quick.keep('new')
    expect(await answers[1]).toBe('new')
    expect(act.busy.value).toBe(false)
    slow.keep('old')
    expect(await answers[0]).toBeNull()
  })
  it('an old refusal does not stand beside a new answer', async () => {
    const act = useAct({ latest: true })
    const slow = later<string>()
    const first = act.run(() => slow.promise)
    await act.run(async () => 'new')
    slow.fail(refused)
    await first
    expect(act.detail.value).toBe('')
  })
})
