import { effectScope, nextTick, ref, shallowRef, watch } from 'vue'
import { describe, expect, it } from 'vitest'
import { useLongList } from './use-long-list'

// What Nuxt would import by itself.
Object.assign(globalThis, { ref, shallowRef, watch })

interface Row {
  readonly id: number
}
/** A list of `total` rows, and the pages that were asked of it. */
function source(total: number) {
  const asked: string[] = []
  const fetchPage = async (query: Record<string, unknown>) => {
    asked.push(`${String(query.search)} ${String(query.page)}`)
    const from = (Number(query.page) - 1) * Number(query.size)
    return {
      total,
      rows: Array.from({ length: Math.max(0, Math.min(Number(query.size), total - from)) }, (_, i): Row => ({
        id: from + i,
      })),
    }
  }
  return { asked, fetchPage }
}
const settle = async (): Promise<void> => {
  for (let i = 0; i < 5; i++) {
    await nextTick()
  }
}

describe('a list of any length', () => {
  it('reads the pages that come into view, each once', async () => {
    const { asked, fetchPage } = source(1000)
    const list = effectScope().run(() => useLongList<Row>(fetchPage, () => ({ search: '' })))!
    await list.begin()
    list.show(0, 40)
    list.show(95, 130)
    list.show(100, 160)
    await settle()
    expect([list.total.value, list.rowAt(0)?.id, list.rowAt(130)?.id, list.rowAt(950)]).toEqual([
      1000,
      0,
      130,
      undefined,
    ])
    list.show(940, 999)
    await settle()
    expect([list.rowAt(950)?.id, list.rowAt(999)?.id, list.rowAt(1000)]).toEqual([950, 999, undefined])
    expect(asked).toEqual([' 1', ' 2', ' 10'])
  })
  it('begins anew with another question, and passes over answers to the old one', async () => {
    const search = ref('a')
    const { fetchPage } = source(300)
    let release: () => void = () => undefined
    const held = new Promise<void>((resolve) => {
      release = resolve
    })
    const list = effectScope().run(() =>
      useLongList<Row>(
        async (query) => {
          if (query.search === 'a' && query.page === 2) {
            await held
          }
          const answer = await fetchPage(query)
          return query.search === 'b' ? { total: 1, rows: [{ id: 777 }] } : answer
        },
        () => ({ search: search.value }),
      ),
    )!
    await list.begin()
    list.show(150, 160)
    search.value = 'b'
    await settle()
    expect([list.total.value, list.rowAt(0)?.id]).toEqual([1, 777])
    release()
    await settle()
    expect([list.total.value, list.rowAt(0)?.id, list.rowAt(150)]).toEqual([1, 777, undefined])
  })
  it('tells what went wrong, and can be asked again', async () => {
    let broken = true
    const list = effectScope().run(() =>
      useLongList<Row>(
        async () => {
          if (broken) {
            throw new Error('no answer')
          }
          return { total: 1, rows: [{ id: 5 }] }
        },
        () => ({}),
      ),
    )!
    await list.begin()
    expect([list.error.value instanceof Error, list.pending.value]).toEqual([true, false])
    broken = false
    await list.begin()
    expect([list.error.value, list.rowAt(0)?.id]).toEqual([null, 5])
  })
})
