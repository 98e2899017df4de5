import { anyRequest, Asker, type Body } from '../tests/browser/generated-requests'
import { ensureBuild } from '../scripts/lib/build.mjs'
import { freePort } from '../scripts/lib/run.mjs'
import { startServer } from '../scripts/lib/server.mjs'
import { stream, type Figure } from './figure'

/** Requests that are made up, over every route, for the owner and for somebody who may only look. */
const REQUESTS = Number(process.env.REQUESTS ?? 100_000)
const LANES = 4
const PASSWORD = 'boards-and-thread'
const SHOWN = 10

export async function* run({ root }: { readonly root: string }): AsyncGenerator<Figure> {
  ensureBuild(root)
  const port = await freePort()
  const server = await startServer({
    root,
    port,
    databaseUrl: process.env.DATABASE_URL!,
    sessionPassword: 'a throw-away password of the bench',
    begin: 'demo',
    stdio: ['ignore', 'ignore', 'ignore'],
  })
  try {
    const base = `http://127.0.0.1:${port}`
    const askers = ['ines@hollowmere.example', 'guest@hollowmere.example'].map(
      (email) => new Asker(base, email, PASSWORD),
    )
    await Promise.all(askers.map((asker) => asker.signIn()))
    const asked = (): number => askers.reduce((sum, asker) => sum + asker.asked, 0)
    const learned = askers.map(() => new Map<string, Body>())
    let turn = 0
    const lane = async (number: number): Promise<void> => {
      const below = stream(number + 1)
      while (asked() < REQUESTS) {
        // Whoever may only look is refused early; the owner gets inside.
        const who = below(5) === 0 ? 1 : 0
        await anyRequest(askers[who]!, turn++, below, learned[who]!)
      }
    }
    const start = performance.now()
    await Promise.all(Array.from({ length: LANES }, (_, number) => lane(number)))
    const seconds = (performance.now() - start) / 1000
    const faults = askers.flatMap((asker) => asker.faults)
    for (const fault of faults.slice(0, SHOWN)) {
      process.stderr.write(`${fault}\n`)
    }
    const row = { bench: 'requests', comparedWith: 'requests that were made up' }
    yield {
      ...row,
      figure: 'requests, a second',
      value: asked() / seconds,
      unit: 'per s',
      ratio: asked() / seconds / asked(),
    }
    yield { ...row, figure: 'answers of 500 and above', value: faults.length, unit: '', ratio: faults.length / asked() }
  } finally {
    await server.stop()
  }
}
