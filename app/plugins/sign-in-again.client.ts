/** Asking the server, whichever route it is: the types of every route are not needed here. */
type Asking = (request: unknown, options?: object) => Promise<unknown>

/**
 * Whatever is asked after the session has ended waits until the same person has signed in again in place, and is then
 * asked once more: nothing that was typed is lost.
 */
export default defineNuxtPlugin(() => {
  const session = useSession()
  const plain = globalThis.$fetch as unknown as Asking
  const isDoor = (request: unknown): boolean => typeof request === 'string' && /\/api\/company\/sign-/.test(request)
  const asked: Asking = async (request, options) => {
    try {
      return await plain(request, options)
    } catch (error) {
      const isEnded = (error as { status?: number }).status === 401 && session.person !== null && !isDoor(request)
      if (isEnded && (await session.signInAgain())) {
        return plain(request, options)
      }
      throw error
    }
  }
  globalThis.$fetch = Object.assign(asked, plain) as unknown as typeof globalThis.$fetch
})
