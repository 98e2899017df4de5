import { fileURLToPath } from 'node:url'
import { orStop, say, Stop } from './lib/say.mjs'
import { withDatabase } from './lib/with-database.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/**
 * `npm run reset-password -- MAIL [--demo]`: for whoever sits at the machine itself, prints a link by which the person
 * of that address chooses a new password.
 */
async function main() {
  const email = process.argv.slice(2).find((word) => !word.startsWith('--'))
  if (!email) {
    throw new Stop('Name whose password: npm run reset-password -- ines@hollowmere.example')
  }
  await withDatabase(root, 'server/services/people/link-at-the-machine.ts', async ({ linkForOwner }) => {
    const path = await linkForOwner(email)
    if (path === null) {
      throw new Stop(`Nobody has the address ${email} here, or may sign in by it.`)
    }
    const origin = (process.env.PUBLIC_URL ?? `http://127.0.0.1:${process.env.PORT ?? 3000}`).replace(/\/$/, '')
    say(`Open this once, within 24 hours:\n\n  ${origin}${path}\n`)
  })
}
