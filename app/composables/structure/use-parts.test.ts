import { shallowRef } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Parts } from '~~/shared/structure/parts'
import { useParts } from './use-parts'

/** Each question waits here until it is answered by hand. */
const questions: { ids: number[]; answer: () => Promise<void>; fail: () => Promise<void> }[] = []
const settled = (): Promise<void> => new Promise((resolve) => setImmediate(resolve))

// What Nuxt would import by itself.
Object.assign(globalThis, {
  shallowRef,
  $fetch: (_path: string, { query }: { query: { of: number[] } }) =>
    new Promise<Parts>((resolve, reject) => {
      questions.push({
        ids: query.of,
        answer: () => {
          const items = query.of.map((id) => ({ id })) as unknown as Parts['items']
          resolve({ items, bills: [], lines: [], breakDowns: [], today: '2026-03-02' })
          return settled()
        },
        fail: () => {
          reject(new Error('no answer'))
          return settled()
        },
      })
    }),
})
beforeEach(() => {
  questions.length = 0
})
const idsOf = (parts: { value: Parts }): number[] => parts.value.items.map((item) => item.id).sort()

describe('parts that are fetched when they are first asked for', () => {
  it('keeps what came meanwhile: two questions under way do not lose each other’s answer', async () => {
    const { parts, want } = useParts()
    void want([1])
    void want([2])
    await questions[0]!.answer()
    await questions[1]!.answer()
    expect(idsOf(parts)).toEqual([1, 2])
  })
  it('asks once, and whoever asks again meanwhile waits for the same answer', async () => {
    const { parts, want } = useParts()
    void want([1])
    let known: number[] = []
    void want([1]).then(() => {
      known = idsOf(parts)
    })
    expect(questions).toHaveLength(1)
    await settled()
    expect(known).toEqual([])
    await questions[0]!.answer()
    expect(known).toEqual([1])
  })
  it('asks again for what was not answered', async () => {
    const { parts, fetchParts, want } = useParts()
    const first = fetchParts([1]).catch(() => 'no answer')
    await questions[0]!.fail()
    expect(await first).toBe('no answer')
    void want([1])
    await questions[1]!.answer()
    expect(idsOf(parts)).toEqual([1])
  })
  it('reads again without losing what came meanwhile', async () => {
    const { parts, want, again } = useParts()
    void again([1])
    void want([2])
    await questions[1]!.answer()
    await questions[0]!.answer()
    expect(idsOf(parts)).toEqual([1, 2])
  })
})
