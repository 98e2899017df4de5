/** Pages for whoever is not signed in, or chooses a password by a link. */
const AT_THE_DOOR = new Set(['/sign-in', '/forgotten', '/password'])

/** Sends who is not signed in to the door, and a first visitor of an empty company to its beginning. */
export default defineNuxtRouteMiddleware(async (target) => {
  const session = useSession()
  if (!session.loaded) {
    // The frame of the pages is on its way while the server says who this is.
    void import('~/layouts/default.vue')
    await session.load()
  }
  if (!session.company) {
    return target.path === '/begin' ? undefined : navigateTo('/begin')
  }
  if (target.path === '/password') {
    return
  }
  if (!session.person) {
    return AT_THE_DOOR.has(target.path)
      ? undefined
      : navigateTo({ path: '/sign-in', query: target.fullPath === '/' ? {} : { to: target.fullPath } })
  }
  if (AT_THE_DOOR.has(target.path) || target.path === '/begin') {
    return navigateTo('/')
  }
  await useReferences().load()
})
