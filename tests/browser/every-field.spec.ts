import { randomUUID } from 'node:crypto'
import { expect, test } from '@playwright/test'
import { Asker, CHANGING, EVIL, leaves, put } from './generated-requests'
import { PASSWORD } from './helpers'
import { withOwnServer } from './own-server'

const LANES = 4

test('inside every field of every request: a refusal, never “something went wrong here”', async () => {
  test.setTimeout(900_000)
  await withOwnServer('fields', async (base) => {
    const asker = new Asker(base, 'ines@hollowmere.example', PASSWORD)
    await asker.signIn()
    const left = [...CHANGING]
    const lane = async (): Promise<void> => {
      for (let next = left.pop(); next; next = left.pop()) {
        const { method, route } = next
        const body = await asker.learn(method, route)
        // Each field in turn gets what nobody should send, all others staying as they were.
        for (const variant of leaves(body).flatMap((field) => EVIL.map((value) => put(body, field, value)))) {
          await asker.send(method, route, 'key' in body ? { ...variant, key: variant.key ?? randomUUID() } : variant)
        }
      }
    }
    await Promise.all(Array.from({ length: LANES }, lane))
    expect(asker.faults).toEqual([])
    // It got inside: hundreds of fields were found, not only the outermost.
    expect(asker.asked).toBeGreaterThan(5000)
  })
})
